#pragma once
// The height of the ground along a straight line in plan, from a place whose height is known: over folds, ramps and steps, on
// the same storey all the way.

#include "core/ground/standing.h"

namespace dune::ground {

struct Followed {
  double y;                ///< metres
  std::uint32_t triangle;  ///< that the line ends on
};

/// How far two storeys are apart at least, metres: on the lower one could not be stood otherwise.
constexpr double storeysApart(const nav::Agent& agent) { return 0.9 * agent.height; }

/// Whether ground found alone over a place is that of a storey, whose height is known some way off: where it is a storey's height from it,
/// the place may lie in a crack through which the storey below shows, and then places right beside it show another. O(triangles over it).
bool isSameStorey(const Standing& standing, const Vec2& q, double found, double known);

/// Requires that the ground goes on all along the line, as it does inside a cell of the outline. Pieces without ground
/// (hairline cracks) keep the height before them. O(triangles near the line).
Followed follow(const Standing& standing, const Vec2& from, const Followed& start, const Vec2& to);

}  // namespace dune::ground
