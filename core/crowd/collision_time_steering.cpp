// Avoidance by the time to the next collision.
//
// Source: Karamouzas, Skinner & Guy, "Universal power law governing pedestrian interactions", Physical Review Letters 113, 2014. Two people
// push each other by how soon they would collide, as measured in crowds: an energy of k / t² that fades beyond a few seconds.

#include <algorithm>

#include "core/crowd/steering_model.h"

namespace dune::crowd {

namespace {

constexpr double kTakesUp = 0.54;  // s in which the wanted velocity is taken up, as measured
constexpr double kSoonest = 0.05;  // s: sooner collisions push no harder
constexpr double kHardest = 25;    // m/s², of all pushes together
constexpr double kFades = 4;       // looks ahead this many times as far as bodies must not touch

/// Seconds over which pushes fade. Close to where it wants to stand only what is about to happen counts: else those who come after it push
/// it on for ever.
double fadeOf(const Situation& s) {
  constexpr double kClose = 3, kLeast = 0.05;  // m; of the time as usual
  const double usual = s.settings.lookAhead * kFades;
  if (!s.body.way.atLast() || s.body.way.points.empty()) return usual;
  return usual * std::clamp(glm::distance(plan(s.body.way.points.back()), s.here()) / kClose, kLeast, 1.0);
}

/// The push away from a collision with another, m/s²: minus the gradient of the energy.
Vec2 pushFrom(const Situation& s, const Seen& other, double fade) {
  const Vec2 apart = other.at - s.here(), v = s.body.velocity - other.velocity;
  const double radius = std::min(s.radiusWith(other) + s.settings.spacing, other.distance - 1e-3);
  const double a = glm::dot(v, v), b = glm::dot(apart, v), c = glm::dot(apart, apart) - radius * radius;
  const double d = b * b - a * c;
  if (a < 1e-9 || b <= 0 || d <= 1e-9) return Vec2{0};  // they never touch
  const double root = std::sqrt(d);
  const double t = std::max(kSoonest, (b - root) / a);
  if (t > 3 * fade) return Vec2{0};
  return (v - (v * b - apart * a) / root) * (-s.settings.vigour * std::exp(-t / fade) / (a * t * t) * (2 / t + 1 / fade));
}

class CollisionTimeSteering : public SteeringModel {
 public:
  Vec2 steer(const Situation& s, std::vector<float>&, Insight* insight) const override {
    Vec2 push = (s.body.wanted - s.body.velocity) / kTakesUp;
    if (s.near.empty()) return withinWalls(s, s.body.wanted);
    const double fade = fadeOf(s);
    for (const Seen& other : s.near) {
      const Vec2 p = pushFrom(s, other, fade);
      if (insight) insight->pushes.push_back(p);
      push += p;
    }
    if (const double hard = glm::length(push); hard > kHardest) push *= kHardest / hard;
    return withinWalls(s, s.body.velocity + push * (s.dt * s.settings.every));
  }
};

}  // namespace

const SteeringModel& collisionTimeSteering() {
  static const CollisionTimeSteering model;
  return model;
}

}  // namespace dune::crowd
