#pragma once
// How far points and segments are from triangles, with the places that are nearest.
//
// A triangle is convex, so its distance is a convex function of the place, and what is nearest on it moves no farther than the place does.
// Everything in this folder that is exact rests on these two facts.

#include <array>

#include "core/base/vec.h"

namespace dune::flight {

using Corners = std::array<Vec3, 3>;

/// The place of a triangle that is nearest to `p`; a triangle without area is a segment or a point. Ericson, "Real-Time Collision
/// Detection", 2005, section 5.1.5.
Vec3 nearestOn(const Corners& triangle, const Vec3& p);

/// Where two things come nearest to each other.
struct Meeting {
  double square;  ///< of the distance
  double along;   ///< where on the segment, 0 to 1
  Vec3 on;        ///< the place of the triangle, or of the other segment
};

/// Of the segments ab and cd. Ericson, section 5.1.9.
Meeting nearestBetween(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d);
/// Of the segment ab and a triangle; square 0 where it passes through.
Meeting nearestBetween(const Vec3& a, const Vec3& b, const Corners& triangle);
/// Whether the segment ab comes nearer to a triangle than the root of `square`: the square of nearestBetween is less, found sooner.
bool comesNearer(const Vec3& a, const Vec3& b, const Corners& triangle, double square);

/// Where the segment ab passes through a triangle, 0 to 1; below zero where it does not. Möller & Trumbore, "Fast, minimum storage
/// ray/triangle intersection", 1997, both sides.
double crossing(const Vec3& a, const Vec3& b, const Corners& triangle);

}  // namespace dune::flight
