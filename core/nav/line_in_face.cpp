#include "core/nav/line_in_face.h"

#include <algorithm>

namespace dune::nav {

Interval lineIn(const NavMesh& mesh, FaceId face, const Vec2& origin, const Vec2& direction, double slack) {
  Interval in{-INFINITY, INFINITY};
  for (std::size_t i = 0, n = mesh.cornerCount(face); i < n; ++i) {
    const Vec2 a = plan(mesh.cornerAt(face, i)), edge = plan(mesh.cornerAt(face, i + 1 == n ? 0 : i + 1)) - a;
    const double length = glm::length(edge);
    if (length == 0) continue;
    // Left of the edge, or hardly right of it: inside + turn · t >= 0.
    const double inside = cross(edge, origin - a) / length + slack, turn = cross(edge, direction) / length;
    if (turn > 0) in.from = std::max(in.from, -inside / turn);
    if (turn < 0) in.to = std::min(in.to, inside / -turn);
    if (turn == 0 && inside < 0) return {INFINITY, -INFINITY};
  }
  return in;
}

}  // namespace dune::nav
