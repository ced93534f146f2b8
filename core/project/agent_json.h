#pragma once
// An agent as JSON, the same in projects and in mesh files.

#include <nlohmann/json.hpp>

#include "core/nav/agent.h"

namespace dune::project {

nlohmann::ordered_json agentJson(const nav::Agent& agent);

/// What is missing has its default. Throws what nlohmann throws on wrong types, and std::out_of_range, with a sentence, on a name
/// that is missing or a limit that makes no sense; callers turn both into problems.
nav::Agent agentFrom(const nlohmann::ordered_json& json);

}  // namespace dune::project
