#include "core/pipeline/world.h"

#include <algorithm>
#include <iterator>

#include "core/level/role_rules.h"

namespace dune::pipeline {

level::World worldOf(const project::Project& project, std::shared_ptr<const level::Level> level, const std::string& agent) {
  const project::LevelSection& section = *project.level;
  const std::size_t own = level->objects.size();
  level::World world = level::plainWorld(level::withBlockers(std::move(level), section.blockers, agent));
  for (std::size_t i = 0; i < own; ++i) world.roles[i] = level::roleOf(world.level->objects[i], section.roles, section.rules);
  std::size_t at = own;
  for (const level::Blocker& b : section.blockers)
    if (b.holds(agent)) world.roles[at++] = b.role;
  world.bounds = section.bounds;
  return world;
}

hand::Standing standingFor(const project::Project& project, const std::string& agent) {
  const project::LevelSection& section = *project.level;
  hand::Standing standing;
  for (const level::Blocker& b : section.blockers)
    if (b.holds(agent)) std::ranges::move(hand::solidsOf(b), std::back_inserter(standing.solids));
  const project::AgentKind* kind = project::agentNamed(*project.agents, agent);
  standing.onAll = kind && project::givenFor(section, kind->id);
  return standing;
}

}  // namespace dune::pipeline
