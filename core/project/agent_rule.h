#pragma once
// What a kind of ground, or of air, costs one kind of agent, in place of what the kind itself says.

#include <optional>
#include <string>
#include <vector>

#include "core/nav/rules.h"

namespace dune::project {

struct AgentRule {
  int agent = 0;     ///< its id, of those that walk or of those that fly
  std::string kind;  ///< the name of a kind of ground
  nav::KindRule rule{};
  bool operator==(const AgentRule&) const = default;
};

/// The rule of an agent for a kind; null where the kind itself counts.
const AgentRule* ruleOf(const std::vector<AgentRule>& rules, int agent, const std::string& kind);
/// Sets it, or with nothing takes it away.
void setRule(std::vector<AgentRule>& rules, int agent, const std::string& kind, const std::optional<nav::KindRule>& rule);

}  // namespace dune::project
