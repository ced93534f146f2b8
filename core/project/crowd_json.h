#pragma once
// Crowds as JSON, and ways to steer alone, as settings that are compared.

#include <nlohmann/json_fwd.hpp>

#include "core/project/crowd.h"

namespace dune::project {

nlohmann::ordered_json crowdJson(const CrowdSection& crowd);
/// Throws what the library throws, or std::out_of_range, for what makes no sense.
CrowdSection crowdFrom(const nlohmann::ordered_json& j);

/// {"steering": NAME, "look-ahead": 0.7 …}; what is missing is as usual. Names what is wrong, and where.
Result<crowd::SteeringSettings> steeringFromText(const std::string& json);

}  // namespace dune::project
