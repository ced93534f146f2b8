// Feeling ahead: straight on while that is free for some steps; else the first free direction to either side, in steps of an angle. Cheap,
// and seen getting lost where a way out takes more than one turn.

#include <algorithm>

#include "core/base/plan_geometry.h"
#include "core/crowd/steering_model.h"

namespace dune::crowd {

namespace {

/// Whether nothing is met along a feeler, others taken to go on as they go.
bool isFree(const Situation& s, const Vec2& direction, double speed) {
  const int steps = static_cast<int>(s.settings.stepsAhead);
  const Vec2 here = s.here();
  if (!nav::castRay(s.mesh, s.body.place, here + direction * (s.settings.stepLength * steps), &s.rules).reached) return false;
  bool free = true;
  for (int k = 1; k <= steps && free; ++k) {
    const Vec2 at = here + direction * (s.settings.stepLength * k);
    const double time = s.settings.stepLength * k / speed;
    for (const Seen& other : s.near) {
      const Vec2 then = other.at + other.velocity * time;
      const double nearer = glm::distance(then, at);
      free &= nearer >= s.radiusWith(other) + s.settings.spacing || nearer > other.distance;
    }
    s.picture.eachObstacle(s.self, s.settings.range, [&](const Footprint& print) {
      free &= print.distance(at - print.velocity * time) >= s.body.who.radius + s.settings.spacing;
    });
  }
  return free;
}

class FeelerSteering : public SteeringModel {
 public:
  Vec2 steer(const Situation& s, std::vector<float>& memory, Insight* insight) const override {
    const double speed = glm::length(s.body.wanted);
    if (speed < 1e-6 || (s.near.empty() && s.picture.obstacles.empty())) return s.body.wanted;
    // Which side it turned to last is felt first, or it would turn to and fro before an obstacle.
    memory.resize(1, ownNumber(s.body.who.id) < 0.5 ? 1.f : -1.f);
    const double first = std::atan2(s.body.wanted.y, s.body.wanted.x);
    const int most = static_cast<int>(s.settings.turnLimit / s.settings.angleStep);
    for (int i = 0; i <= 2 * most; ++i) {
      const double side = (i % 2 == 1 ? 1 : -1) * static_cast<double>(memory[0]);
      const double turn = side * radians(s.settings.angleStep) * ((i + 1) / 2);
      const Vec2 direction{std::cos(first + turn), std::sin(first + turn)};
      const bool free = isFree(s, direction, speed);
      if (insight)
        insight->feelers.push_back({s.here(), s.here() + direction * (s.settings.stepLength * s.settings.stepsAhead), free, free});
      if (!free) continue;
      if (i > 0) memory[0] = static_cast<float>(side);
      return withinWalls(s, direction * speed);
    }
    constexpr double kCreeps = 0.25;  // of its speed
    if (s.settings.turnsOnSpot < 0.5) return withinWalls(s, s.body.wanted * kCreeps);
    return Vec2{0};
  }
};

}  // namespace

const SteeringModel& feelerSteering() {
  static const FeelerSteering model;
  return model;
}

}  // namespace dune::crowd
