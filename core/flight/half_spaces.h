#pragma once
// The nearest point within half-spaces: how corners of ways move, and what velocities of bodies that fly are chosen by.

#include <optional>
#include <span>

#include "core/base/vec.h"

namespace dune::flight {

/// normal · v >= least, of a normal of length 1. `hard` ones are never given up.
struct Bound {
  Vec3 normal;
  double least = 0;
  bool hard = false;
};

/// The point nearest to `p` that all bounds allow; nothing where they leave none. `slack`: by how much those that are not hard are
/// loosened. Exact but for rounding: one bound after the other is met, of which at most three hold at once (the dual method of Goldfarb &
/// Idnani, "A numerically stable dual method for solving strictly convex quadratic programs", 1983, in space). Time: bounds times how often
/// one is met, seldom more than ten.
std::optional<Vec3> nearestPoint(const Vec3& p, std::span<const Bound> bounds, double slack = 0);

/// The velocity nearest to `wanted`, no longer than `most`, that all bounds allow. Where they leave nothing, those that are not hard give
/// way together, each by as much, until something is left; where even that is nothing it is standing still.
Vec3 nearestWithin(const Vec3& wanted, double most, std::span<const Bound> bounds);

}  // namespace dune::flight
