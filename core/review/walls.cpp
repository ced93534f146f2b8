#include "core/review/walls.h"

#include <algorithm>

#include "core/base/plan_geometry.h"

namespace dune::review {

WallDistance::WallDistance(const nav::NavMesh& mesh) : radius_(mesh.agent.radius) {
  std::vector<Box2> boxes;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    for (std::size_t i = 0, n = mesh.cornerCount(nav::FaceId{f}); i < n; ++i) {
      if (mesh.acrossOf(nav::FaceId{f})[i] != nav::kNoFace) continue;
      edges_.push_back({mesh.cornerAt(nav::FaceId{f}, i), mesh.cornerAt(nav::FaceId{f}, (i + 1) % n)});
      boxes.emplace_back().add(plan(edges_.back().a));
      boxes.back().add(plan(edges_.back().b));
    }
  grid_ = PlanGrid(boxes, 1.0);
}

/// On the mesh the border is the radius from the wall; beyond the border the wall is that much nearer.
double WallDistance::at(const Vec3& p, double most) const {
  constexpr double kSameStorey = 1.5;  // m: between a place and the nearest one of an edge
  Box2 box;
  box.add(plan(p));
  thread_local std::vector<std::uint32_t> near;
  grid_.collect(box.grown(most), near);
  constexpr double kSame = 1e-9;
  double best = most;
  bool inside = true;
  for (const std::uint32_t i : near) {
    const Vec2 a = plan(edges_[i].a), b = plan(edges_[i].b);
    const Vec2 along = b - a;
    const double length2 = glm::dot(along, along);
    const double share = length2 > 0 ? std::clamp(glm::dot(plan(p) - a, along) / length2, 0.0, 1.0) : 0;
    if (std::abs(glm::mix(edges_[i].a.y, edges_[i].b.y, share) - p.y) > kSameStorey) continue;
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
