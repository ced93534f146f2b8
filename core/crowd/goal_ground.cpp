#include "core/crowd/goal_ground.h"

#include "core/base/plan_geometry.h"
#include "core/crowd/floor.h"
#include "core/nav/walk.h"

namespace dune::crowd {

double GoalGround::within(double distance, double radius, const Vec3& goal, const Floor& floor) {
  constexpr double kFarthest = 30, kStorey = 0.5;  // m
  const auto sides = static_cast<double>(free_.size());
  if (goal_ != goal) {
    goal_ = goal;
    const Vec2 middle = plan(goal);
    const nav::Place at = floor.field().locator().nearest(goal, kStorey);
    for (std::size_t k = 0; k < free_.size(); ++k) {
      const double angle = 2 * kPi * (static_cast<double>(k) + 0.5) / sides;
      const Vec2 out = middle + Vec2{std::cos(angle), std::sin(angle)} * kFarthest;
      free_[k] = at.valid() ? glm::distance(middle, plan(nav::castRay(floor.mesh(), at, out, &floor.rules()).end.position)) : kFarthest;
    }
  }
  double area = 0;
  for (const double free : free_) {
    const double far = std::min(free + radius, distance);  // the middles of bodies keep a radius from walls
    area += far * far * kPi / sides;
  }
  return area;
}

}  // namespace dune::crowd
