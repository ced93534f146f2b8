#pragma once
// The line at the agent's radius from the limits, as separate pieces.
//
// Every limit is grown by the radius on its side: a convex shape with one side at exactly the radius and round corners as tangents,
// so that it is never nearer than the radius and nowhere farther than kArcError. The outline is what of their borders lies
// inside no other one of about the same height, and, beyond an end that is no other limit's, the limit's own line. Each piece is
// exact; that they meet is left to the triangulation.

#include "core/ground/clearance.h"

namespace dune::generate {

struct Grown {
  Polygon border;  ///< convex, counter-clockwise; its last side lies on the limit's own line
  Box2 box;
  std::vector<Vec3> sides;  ///< of the border, in its order: unit normal inwards and its offset, normal·q >= offset inside

  /// What lies on its border is in it, as far as numbers tell: ground ends on the limit's own line, and has that line too.
  bool contains(const Vec2& q) const {
    if (!box.grown(ground::Limit::kOnLine).contains(q)) return false;
    for (const Vec3& s : sides)
      if (s.x * q.x + s.y * q.y < s.z - ground::Limit::kOnLine) return false;
    return true;
  }
};

/// One grown shape a limit, in their order.
std::vector<Grown> growLimits(const std::vector<ground::Limit>& limits, double radius, double arcError);

struct OutlinePiece {
  Vec2 a, b;
};
/// The pieces within a box of the plan, cut at its sides. O(limits × limits nearby). Fails only when cancelled.
Result<std::vector<OutlinePiece>> outlinePieces(const std::vector<ground::Limit>& limits, const std::vector<Grown>& grown,
                                                double agentHeight, const Box2& within, const Job& job);

}  // namespace dune::generate
