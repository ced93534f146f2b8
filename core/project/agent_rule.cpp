#include "core/project/agent_rule.h"

#include <algorithm>

namespace dune::project {

namespace {

auto isFor(int agent, const std::string& kind) {
  return [agent, &kind](const AgentRule& r) { return r.agent == agent && r.kind == kind; };
}

}  // namespace

const AgentRule* ruleOf(const std::vector<AgentRule>& rules, int agent, const std::string& kind) {
  const auto found = std::ranges::find_if(rules, isFor(agent, kind));
  return found == rules.end() ? nullptr : &*found;
}

void setRule(std::vector<AgentRule>& rules, int agent, const std::string& kind, const std::optional<nav::KindRule>& rule) {
  std::erase_if(rules, isFor(agent, kind));
  if (rule) rules.push_back({agent, kind, *rule});
  std::ranges::sort(rules, {}, [](const AgentRule& r) { return std::pair(r.agent, r.kind); });
}

}  // namespace dune::project
