#pragma once
// The height of the ground along a straight line in plan, from a place whose height is known: over folds, ramps and steps, on
// the same storey all the way.

#include "core/ground/standing.h"

namespace dune::ground {

struct Followed {
  double y;                ///< metres
  std::uint32_t triangle;  ///< that the line ends on
};

/// Requires that the ground goes on all along the line, as it does inside a cell of the outline. Pieces without ground
/// (hairline cracks) keep the height before them. O(triangles near the line).
Followed follow(const Standing& standing, const Vec2& from, const Followed& start, const Vec2& to);

}  // namespace dune::ground
