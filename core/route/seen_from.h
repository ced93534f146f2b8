#pragma once
// What a search that spreads out saw of a face.

#include "core/base/vec.h"
#include "core/nav/navmesh.h"

namespace dune::route {

/// Through the interval from right to left of one of its edges a face is seen from a root, to which the way costs `g`. All three are the
/// root where all of the face is seen.
struct SeenFrom {
  nav::FaceId face;
  Vec2 root, right, left;
  double g;
};

/// Whether two points in plan are one: coordinates are multiples of 1/1024 or crossings of such lines.
inline bool isSamePoint(const Vec2& a, const Vec2& b) {
  constexpr double kSame = 1e-9;  // metres
  return std::abs(a.x - b.x) <= kSame && std::abs(a.y - b.y) <= kSame;
}

/// Where the way from a root through an interval to a place behind it bends: at the end of the interval that is in the way, else nowhere,
/// and it is the root.
inline Vec2 bendTowards(const Vec2& root, const Vec2& right, const Vec2& left, const Vec2& p) {
  constexpr double kSame = 1e-9;  // metres
  if (!isSamePoint(left, root) && cross(left - root, p - root) > kSame) return left;
  if (!isSamePoint(right, root) && cross(right - root, p - root) < -kSame) return right;
  return root;
}

}  // namespace dune::route
