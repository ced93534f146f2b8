#include "core/project/project.h"

#include <set>

namespace dune::project {

const AgentKind* agentNamed(const AgentsSection& section, const std::string& name) {
  const auto at = std::ranges::find(section.agents, name, &AgentKind::name);
  return at == section.agents.end() ? nullptr : &*at;
}

std::optional<std::size_t> givenFor(const LevelSection& section, int agent) {
  std::optional<std::size_t> found;
  for (std::size_t i = 0; i < section.given.size(); ++i)
    if (section.given[i].agent == agent || (!found && section.given[i].agent == 0)) found = i;
  return found;
}

void numberAgents(AgentsSection& section) {
  std::set<int> taken;
  for (AgentKind& kind : section.agents)
    if (kind.id <= 0 || !taken.insert(kind.id).second) taken.insert(kind.id = std::max(nextId(section.agents), 1));
}

}  // namespace dune::project
