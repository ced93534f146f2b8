#pragma once
// How much ground there is around a goal: beside a wall or in a corner fewer have room near it.

#include <array>

#include "core/base/vec.h"

namespace dune::crowd {

class Floor;

class GoalGround {
 public:
  /// Square metres that bodies of a radius can cover within a distance of a goal and in sight of it. Too few far down a corridor, into
  /// which few of the rays lead that it is measured by. The first question about a goal casts them; O(1) from then on.
  double within(double distance, double radius, const Vec3& goal, const Floor& floor);

 private:
  Vec3 goal_{INFINITY};
  std::array<double, 32> free_{};  // m
};

}  // namespace dune::crowd
