#pragma once
// What lies around a convex shape.

#include "core/base/plan_geometry.h"

namespace dune {

/// A convex polygon around all that lies within `by` metres of a convex one (counter-clockwise; one point and two are allowed), at most
/// 2 % of that too far out. O(n log n).
Polygon grownConvex(std::span<const Vec2> convex, double by);

}  // namespace dune
