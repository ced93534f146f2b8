#pragma once
// Hand work in the document's JSON.

#include <nlohmann/json.hpp>

#include "core/hand/work.h"

namespace dune::project {

nlohmann::ordered_json handJson(const hand::Work& work);
/// Throws std::exception for what makes no sense: faces without area, that are not convex or look down, or ids that repeat.
hand::Work handFrom(const nlohmann::ordered_json& j);

}  // namespace dune::project
