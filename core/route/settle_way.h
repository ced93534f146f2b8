#pragma once
// A found way drawn taut: which edges it crosses is known, now where it does.
//
// 1. Within one kind of ground it is the shortest through its edges (Lee & Preparata, "Euclidean shortest paths in the presence of
//    rectilinear barriers", Networks 1984: the funnel).
// 2. Bends between kinds were tried at a few places of each edge only; here each slides along its edge to where the way is cheapest. In
//    its channel the cost is convex in the place of one bend; they take turns until nothing changes.
// 3. So does a link that is as wide as a stretch of border, with both its ends.

#include <vector>

#include "core/base/vec.h"
#include "core/nav/navmesh.h"

namespace dune::route {

/// A step of a way: a bend, or an edge to be crossed somewhere.
struct WayStep {
  enum class Sort : std::uint8_t { bend, slidingBend, crossing };
  Vec3 at{};           ///< not of a crossing; a link's end with its height
  nav::FaceId face{};  ///< that the way goes on in
  int link = -1;       ///< that it takes from here, or none
  Sort sort = Sort::bend;
  Vec2 right{}, left{};  ///< the ends of the edge that is crossed, or slid along
  double perMetre = 1;   ///< cost of the ground that it goes on in, or of the link's flight
  /// Both ends of a link that may be taken anywhere along two stretches slide along these, together: middle + half · t.
  Vec3 middle{}, half{};
  double along = 0;          ///< t
  double low = 0, high = 0;  ///< of t, where the stretches lie in the faces of the step and of the next
  bool forward = true;       ///< the way that the link is taken
};

/// The bends of the way, crossings left out where it is straight. `reach`: how far a bend may slide, metres. O(steps) but for the slides.
std::vector<WayStep> settleWay(std::vector<WayStep> steps, double reach);

}  // namespace dune::route
