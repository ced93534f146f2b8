#include "core/nav/locator.h"

namespace dune::nav {

namespace {
constexpr double kCellHint = 1.0;
}

Locator::Locator(const NavMesh& mesh) : mesh_(&mesh) {
  std::vector<Box2> boxes(mesh.faceCount());
  for (std::uint32_t f = 0; f < boxes.size(); ++f)
    for (const std::uint32_t v : mesh.cornersOf(FaceId{f})) boxes[f].add(plan(mesh.vertices[v]));
  grid_ = PlanGrid(boxes, kCellHint);
}

Place Locator::under(const Vec3& p, double reach) const {
  Place best;
  double least = reach;
  for (const std::uint32_t f : grid_.at(plan(p))) {
    if (!coversPlan(*mesh_, FaceId{f}, plan(p))) continue;
    const double y = heightOn(*mesh_, FaceId{f}, plan(p));
    if (const double d = std::abs(y - p.y); d < least || (d <= least && !best.valid())) best = {FaceId{f}, {p.x, y, p.z}}, least = d;
  }
  return best;
}

Place Locator::nearest(const Vec3& p, double within) const {
  if (!mesh_ || mesh_->faceCount() == 0) return {};
  Place best;
  Box2 point;
  point.add(plan(p));
  double least = within;
  for (double reach = std::min(within, 1.0);; reach = std::min(within, reach * 4)) {
    for (const std::uint32_t f : grid_.collect(point.grown(reach))) {
      const Vec3 at = nearestOnFace(*mesh_, FaceId{f}, p);
      if (const double d = glm::distance(at, p); d < least || (d <= least && !best.valid())) best = {FaceId{f}, at}, least = d;
    }
    if (reach >= within || (best.valid() && least <= reach)) return best;
  }
}

}  // namespace dune::nav
