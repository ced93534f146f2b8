#include "core/review/walls.h"

#include <algorithm>

namespace dune::review {

/// On the mesh the border is the radius from the wall; beyond the border the wall is that much nearer.
double WallDistance::at(const Vec3& p, double most) const {
  constexpr double kSameStorey = 1.5;  // m: between a place and the nearest one of an edge
  Box2 box;
  box.add(plan(p));
  thread_local std::vector<std::uint32_t> near;
  border_.collect(box.grown(most), near);
  constexpr double kSame = 1e-9;
  double best = most;
  bool inside = true;
  for (const std::uint32_t i : near) {
    const nav::Border::Edge& edge = border_.edges()[i];
    const Vec2 a = plan(edge.a), b = plan(edge.b);
    const Vec2 along = b - a;
    const double length2 = glm::dot(along, along);
    const double share = length2 > 0 ? std::clamp(glm::dot(plan(p) - a, along) / length2, 0.0, 1.0) : 0;
    if (std::abs(glm::mix(edge.a.y, edge.b.y, share) - p.y) > kSameStorey) continue;
    const double d = glm::distance(a + along * share, plan(p));
    if (d > best + kSame) continue;
    const bool within = cross(along, plan(p) - a) >= 0;
    // Of two edges that meet in the nearest corner, one that has the place on its side is enough.
    inside = d < best - kSame ? within : inside || within;
    best = std::min(best, d);
  }
  return inside ? std::min(most, radius_ + best) : std::max(0.0, radius_ - best);
}

}  // namespace dune::review
