#include "core/nav/border.h"

namespace dune::nav {

Border::Border(const NavMesh& mesh) {
  constexpr double kCell = 2.0;  // metres: about the length of an edge
  std::vector<Box2> boxes;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    for (std::size_t i = 0, n = mesh.cornerCount(FaceId{f}); i < n; ++i) {
      if (mesh.acrossOf(FaceId{f})[i] != kNoFace) continue;
      const auto corner = mesh.start[f] + static_cast<std::uint32_t>(i);
      edges_.push_back({corner, FaceId{f}, mesh.cornerAt(FaceId{f}, i), mesh.cornerAt(FaceId{f}, (i + 1) % n)});
      boxes.emplace_back().add(plan(edges_.back().a)), boxes.back().add(plan(edges_.back().b));
    }
  grid_ = PlanGrid(boxes, kCell);
}

}  // namespace dune::nav
