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

/// Where the way from a root through an interval to a place behind it bends: at the end of the interval that is in the way, else nowhere,
/// and it is the root.
inline Vec2 bendTowards(const Vec2& root, const Vec2& right, const Vec2& left, const Vec2& p) {
  constexpr double kSame = 1e-9;  // metres
  const auto apart = [&](const Vec2& end) { return std::abs(end.x - root.x) > kSame || std::abs(end.y - root.y) > kSame; };
  if (apart(left) && cross(left - root, p - root) > kSame) return left;
  if (apart(right) && cross(right - root, p - root) < -kSame) return right;
  return root;
}

}  // namespace dune::route
