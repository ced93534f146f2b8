#include "core/project/crowd.h"

#include <algorithm>

namespace dune::project {

std::vector<std::string> scenesOf(const CrowdSection& crowd) {
  std::vector<std::string> scenes;
  const auto add = [&](const std::string& name) {
    if (std::ranges::find(scenes, name) == scenes.end()) scenes.push_back(name);
  };
  for (const CrowdGroup& g : crowd.groups) add(g.scene);
  for (const CrowdObstacle& o : crowd.obstacles) add(o.scene);
  if (scenes.empty()) scenes.emplace_back();
  return scenes;
}

}  // namespace dune::project
