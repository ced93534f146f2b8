#pragma once
// Which part of a line lies in a face.

#include "core/base/plan_geometry.h"
#include "core/nav/navmesh.h"

namespace dune::nav {

/// Where the line from `origin` along `direction` runs in a face seen from above, in units of `direction`, to both sides; `from` over `to`
/// where it passes by. What lies up to `slack` metres outside of an edge counts as in. O(corners).
Interval lineIn(const NavMesh& mesh, FaceId face, const Vec2& origin, const Vec2& direction, double slack = 0);

}  // namespace dune::nav
