#pragma once
// A way made as short as it gets without leaving what it goes around on the other side.
//
// Corners are left out where the straight way is clear. Each of the others moves to where the sum of the ways to its neighbours is least,
// as far as what is near to both ways allows: distances to triangles are convex, so each near triangle is a half-space that certainly holds
// (the string pulled taut of the plane has no counterpart in space, where shortest ways are hard: Canny & Reif 1987). A corner that turns
// much is parted in two, so that ways around edges become as round as the body.

#include <span>
#include <vector>

#include "core/flight/space.h"

namespace dune::flight {

/// `way`: places of the stretched space, each of whose stretches is clear; so are those of the result, which has the same ends and is no
/// longer.
void tighten(const Space& space, std::vector<Vec3>& way);
/// Likewise, only as far as it takes to tell which one of several ways is shorter: corners stay whole, and the last part in a hundred is
/// left.
void tightenRoughly(const Space& space, std::vector<Vec3>& way);

/// The length of a way, metres.
double lengthOf(const Space& space, std::span<const Vec3> way);

}  // namespace dune::flight
