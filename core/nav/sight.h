#pragma once
// Straight lines over a mesh, by their end alone.

#include "core/nav/walk.h"

namespace dune::nav {

/// The end of the straight line from a place towards `to`, where it meets the border first; with rules, also where it would enter ground
/// that they forbid. Follows the ground. O(faces crossed).
inline Vec3 sightEnd(const NavMesh& mesh, const Place& from, const Vec2& to, bool* reached, const Rules* rules = nullptr) {
  const Ray ray = castRay(mesh, from, to, rules);
  *reached = ray.reached;
  return ray.end.position;
}

}  // namespace dune::nav
