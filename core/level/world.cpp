#include "core/level/world.h"

namespace dune::level {

World plainWorld(std::shared_ptr<const Level> level) {
  World world;
  world.roles.assign(level->objects.size(), Role::ground);
  world.level = std::move(level);
  world.kinds.emplace_back();
  return world;
}

}  // namespace dune::level
