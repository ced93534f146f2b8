#include "core/level/world.h"

#include <algorithm>

namespace dune::level {

AreaKind lowGround(const nav::Agent& agent) { return {"crouching", "#7d6a9c", agent.crouchCost, 0, false}; }

nav::Rules rulesOf(const std::vector<AreaKind>& kinds) {
  nav::Rules rules;
  for (const AreaKind& kind : kinds) rules.kinds.push_back(kind.rule());
  return rules;
}

nav::Rules rulesFor(const std::vector<AreaKind>& kinds, const nav::Agent& agent) {
  nav::Rules rules = rulesOf(kinds);
  if (agent.crouches()) rules.kinds.push_back({lowGround(agent).cost, 0, false});
  return rules;
}

std::size_t kindNumber(const World& world, const std::string& name) {
  const auto found = std::ranges::find(world.kinds, name, &AreaKind::name);
  return found == world.kinds.end() ? 0 : static_cast<std::size_t>(found - world.kinds.begin());
}

const AreaVolume* volumeAt(const World& world, const Vec3& at) {
  for (auto volume = world.volumes.rbegin(); volume != world.volumes.rend(); ++volume)
    if (at.y >= volume->bottom && at.y <= volume->top && std::ranges::count(world.kinds, volume->kind, &AreaKind::name) > 0 &&
        contains(volume->outline, plan(at)))
      return &*volume;
  return nullptr;
}

std::vector<std::string> tagNames(const std::vector<AreaVolume>& volumes) {
  std::vector<std::string> names;
  for (const AreaVolume& volume : volumes) names.insert(names.end(), volume.tags.begin(), volume.tags.end());
  std::ranges::sort(names);
  names.erase(std::ranges::unique(names).begin(), names.end());
  return names;
}

std::uint8_t tagsAt(const std::vector<AreaVolume>& volumes, const std::vector<std::string>& names, const Vec3& at) {
  unsigned tags = 0;
  for (const AreaVolume& volume : volumes) {
    if (volume.tags.empty() || at.y < volume.bottom || at.y > volume.top || !contains(volume.outline, plan(at))) continue;
    for (const std::string& tag : volume.tags)
      if (const auto found = std::ranges::lower_bound(names, tag); found != names.end() && *found == tag)
        tags |= 1u << (found - names.begin());
  }
  return static_cast<std::uint8_t>(tags);
}

std::uint16_t groundKind(const World& world, std::size_t object, std::uint64_t triangle) {
  if (object >= world.ground.size() || world.ground[object].empty()) return kNoKind;
  const auto& runs = world.ground[object];
  return std::prev(std::ranges::upper_bound(runs, triangle, {}, &KindRun::first))->kind;
}

World plainWorld(std::shared_ptr<const Level> level) {
  World world;
  world.roles.assign(level->objects.size(), Role::ground);
  world.level = std::move(level);
  world.kinds.emplace_back();
  return world;
}

}  // namespace dune::level
