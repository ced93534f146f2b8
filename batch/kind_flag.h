#pragma once
// --kind: of what kind ground is by names of the level, and what that kind costs.

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/level/ground_rules.h"

namespace dune::batch {

/// What "COST", "COST:ENTRY" or "forbidden" says; nothing where it makes no sense.
std::optional<nav::KindRule> ruleFrom(const std::string& text);

/// Adds to a world what each text "PATTERN=NAME", "PATTERN=NAME:COST", "PATTERN=NAME:COST:ENTRY" or "PATTERN=NAME:forbidden" says. A kind
/// that is named again keeps its costs unless they are said anew. The last pattern that fits counts.
std::optional<Problem> addKinds(const std::vector<std::string>& texts, level::World& world);

}  // namespace dune::batch
