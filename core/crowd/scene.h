#pragma once
// What is simulated: bodies with start, goal and limits.

#include <string>
#include <vector>

#include "core/route/path.h"

namespace dune::crowd {

struct Walker {
  int id = 0;
  Vec3 start{}, goal{};
  double radius = 0.4;         ///< metres; no larger than the mesh was built for, or walls are scraped
  double speed = 1.4;          ///< metres a second
  double acceleration = 4;     ///< metres a second squared
  double turnRate = 240;       ///< degrees a second
  double arriveWithin = 0.15;  ///< metres
  double passWithin = 0.05;    ///< metres from a waypoint at which it counts as passed
  double startTime = 0;        ///< seconds
  int group = 0;               ///< any number; bodies of one are shown alike
};

/// How bodies avoid each other and walls.
struct Avoidance {
  double lookAhead = 0.72;    ///< seconds ahead in which bodies must not touch
  double wallAhead = 0.6;     ///< seconds ahead in which walls must not be touched
  double neighbourRange = 6;  ///< metres
  int mostNeighbours = 12;
  double spacing = 0.03;  ///< metres kept free between bodies when there is room
};

struct SceneOptions {
  double rate = 30;  ///< steps a second
  Avoidance avoidance;
};

}  // namespace dune::crowd
