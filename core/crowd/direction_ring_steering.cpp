// A ring of directions around the body, each weighed by where it leads (attraction) and by what is in the way (danger); the best is taken,
// and the weights of the last steps stay for a while, so that it does not change its mind with every step.
//
// Attraction and danger as separate maps over directions: Fray, "Context Steering", in Rabin (ed.), Game AI Pro 2, 2015.

#include <algorithm>

#include "core/base/plan_geometry.h"
#include "core/crowd/steering_model.h"

namespace dune::crowd {

namespace {

constexpr double kLeastAhead = 0.1;  // of the time ahead, for who is held up
constexpr double kFarther = 3;       // danger is seen this many times as far ahead as bodies must not touch

/// What is in the way of a velocity, 0 to 1: how much sooner than `ahead` something is touched.
double dangerOf(const Situation& s, const Vec2& velocity, double ahead) {
  double soonest = ahead;
  for (const Seen& other : s.near)
    soonest = std::min(soonest, timeToTouch(other.at - s.here(), velocity - other.velocity, s.radiusWith(other) + s.settings.spacing));
  s.picture.eachObstacle(s.self, s.settings.range, [&](const Footprint& print) {
    const Vec2 nearest = print.nearest(s.here());
    soonest = std::min(soonest, timeToTouch(nearest - s.here(), velocity - print.velocity, s.body.who.radius + s.settings.spacing));
  });
  const double walls = s.settings.wallAhead;
  const nav::Ray ray = nav::castRay(s.mesh, s.body.place, s.here() + velocity * walls, &s.rules);
  const double clear = ray.reached ? 1 : glm::distance(plan(ray.end.position), s.here()) / std::max(1e-6, glm::length(velocity) * walls);
  return std::max(1 - soonest / ahead, 1 - clear);
}

class DirectionRingSteering : public SteeringModel {
 public:
  Vec2 steer(const Situation& s, std::vector<float>& memory, Insight* insight) const override {
    const double speed = glm::length(s.body.wanted);
    const auto n = static_cast<std::size_t>(s.settings.directions);
    if (speed < 1e-6 || (s.near.empty() && s.picture.obstacles.empty())) {
      memory.clear();
      return s.body.wanted;
    }
    const bool fresh = memory.size() != n;
    memory.resize(n, 0);
    const double first = std::atan2(s.body.wanted.y, s.body.wanted.x), getsOn = 2 * foresight(s.body) - 1,
                 ahead = s.settings.lookAhead * kFarther * std::max(kLeastAhead, getsOn);
    thread_local std::vector<double> danger;
    danger.assign(n, 0);
    for (std::size_t k = 0; k < n; ++k) {
      // Spokes stand still in the world, so that what is remembered of one is about one direction.
      const double angle = 2 * kPi * static_cast<double>(k) / static_cast<double>(n);
      const Vec2 direction{std::cos(angle), std::sin(angle)};
      const double attraction = (1 + std::cos(angle - first)) / 2;
      danger[k] = dangerOf(s, direction * speed, ahead);
      const double weight = attraction - s.settings.caution * danger[k];
      memory[k] = static_cast<float>(fresh ? weight : glm::mix(weight, static_cast<double>(memory[k]), s.settings.memory));
      if (insight) insight->ring.push_back({direction, attraction, danger[k], static_cast<double>(memory[k])});
    }
    const auto best = static_cast<std::size_t>(std::ranges::max_element(memory) - memory.begin());
    const double angle = 2 * kPi * (static_cast<double>(best) + betweenSpokes(memory, best)) / static_cast<double>(n);
    // Who is held up presses on: that nobody touches is seen to after it.
    const double free = glm::mix(1.0, std::clamp(1.2 - danger[best], 0.0, 1.0), getsOn);
    return withinWalls(s, Vec2{std::cos(angle), std::sin(angle)} * (speed * free));
  }

 private:
  /// The top of the parabola through the best weight and its neighbours, in spokes.
  static double betweenSpokes(const std::vector<float>& weights, std::size_t best) {
    const std::size_t n = weights.size();
    const double left = weights[(best + n - 1) % n], middle = weights[best], right = weights[(best + 1) % n];
    const double bend = left - 2 * middle + right;
    return bend < -1e-9 ? std::clamp((left - right) / (2 * bend), -0.5, 0.5) : 0;
  }
};

}  // namespace

const SteeringModel& directionRingSteering() {
  static const DirectionRingSteering model;
  return model;
}

}  // namespace dune::crowd
