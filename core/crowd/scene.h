#pragma once
// What is simulated: bodies with start, goal and limits, and things that move among them.

#include <string>
#include <vector>

#include "core/crowd/moving_obstacle.h"
#include "core/crowd/steering.h"
#include "core/route/path.h"

namespace dune::crowd {

/// Following another body instead of going to a place.
struct Chase {
  int agent = 0;       ///< the id of the body that is followed
  double every = 0.5;  ///< seconds at least between two questions for the way
  double moved = 1;    ///< metres that the other moves before the way is asked again
  double keep = 1.2;   ///< metres between the centres at which it is near enough
  bool sight = true;   ///< only while a straight line over the ground leads to it; else it goes to where it saw it last
  Vec2 beside{0};      ///< metres in plan beside the other that it goes to, where there is ground
};

struct Walker {
  int id = 0;
  Vec3 start{}, goal{};
  double radius = 0.4;           ///< metres; no larger than the mesh was built for, or walls are scraped
  double speed = 1.4;            ///< metres a second
  double acceleration = 4;       ///< metres a second squared
  double turnRate = 240;         ///< degrees a second
  double arriveWithin = 0.15;    ///< metres
  double passWithin = 0.05;      ///< metres from a waypoint at which it counts as passed
  double startTime = 0;          ///< seconds; before, and as long as somebody stands on its start, it is not there
  int group = 0;                 ///< any number; bodies of one are shown alike
  int priority = 0;              ///< whoever has more goes first, and the others give way
  std::size_t mesh = 0;          ///< of those that the crowd walks on
  std::size_t steering = 0;      ///< of those of the scene
  double originHeight = 0;       ///< metres from its feet to what its places are named by outside; only tables heed it
  std::optional<Chase> chase{};  ///< instead of the goal
  std::vector<Vec3> round{};     ///< places after the goal, one after the other and from the goal again, for ever
};

struct SceneOptions {
  double rate = 30;                            ///< steps a second
  std::vector<SteeringSettings> steerings{1};  ///< at least one
  std::vector<MovingObstacle> obstacles;
};

}  // namespace dune::crowd
