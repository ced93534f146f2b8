#pragma once
// Kept routes as JSON.

#include <nlohmann/json_fwd.hpp>

#include "core/project/routes.h"

namespace dune::project {

nlohmann::ordered_json routesJson(const RoutesSection& section);
/// Throws what nlohmann-json throws, or std::out_of_range for a value that makes no sense.
RoutesSection routesFrom(const nlohmann::ordered_json& json);

}  // namespace dune::project
