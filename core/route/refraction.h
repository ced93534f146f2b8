#pragma once
// Where a way goes on that bends at a point between ground of two costs.

#include <cmath>

#include "core/base/plan_geometry.h"

namespace dune::route {

/// A view of an edge, from right to left.
struct EdgeView {
  Vec2 right, left;
  bool cutRight = false,
       cutLeft = false;  ///< it ends there because another point is better for what lies beyond, not because that is hidden
};

/// What it may go on to: of ways over one edge between two costs, only those are worth following that would not be cheaper over the next
/// point of the edge on either side. Of the ways from one place to another over the points of an edge the best one is kept by that, for
/// what one costs is convex along the edge; what is left out lies beyond a branch of a hyperbola with both points as foci, so that each
/// point is left with about what light would do there, and the number of ways follows the number of points, not its square. Sources:
/// Mitchell & Papadimitriou, "The weighted region problem", J. ACM 38(1), 1991; Sun & Reif, "On finding approximate optimal paths in
/// weighted regions", Journal of Algorithms 58, 2006.
struct Refraction {
  glm::vec2 step{0};                        ///< to the next point of the edge on the left; there is one for each view
  float left = INFINITY, right = INFINITY;  ///< m that a place may be farther from this point than from the next one on that side

  bool any() const { return left < INFINITY || right < INFINITY; }
  /// Whether one of the next points is better whatever it goes on to.
  bool isNever() const;
  /// Cuts what of a view from `root`, the point, over another edge of the face behind lies beyond by `more` m; false where all does. O(1).
  bool cut(const Vec2& root, EdgeView& view, double more) const;
};

}  // namespace dune::route
