#pragma once
// The edges at which ground ends, found by place.

#include "core/base/plan_grid.h"
#include "core/nav/navmesh.h"

namespace dune::nav {

class Border {
 public:
  struct Edge {
    std::uint32_t corner;  ///< its number in the mesh
    FaceId face;
    Vec3 a, b;  ///< the ground is on the left of a → b
  };
  /// O(corners).
  explicit Border(const NavMesh& mesh);

  /// In the order of their corners.
  const std::vector<Edge>& edges() const { return edges_; }
  /// Numbers of those whose box in plan meets this one, ascending. O(cells of the box + found).
  std::vector<std::uint32_t> within(const Box2& box) const { return grid_.collect(box); }
  /// The same into `out`, in place of what is there.
  void collect(const Box2& box, std::vector<std::uint32_t>& out) const { grid_.collect(box, out); }

 private:
  std::vector<Edge> edges_;
  PlanGrid grid_;
};

}  // namespace dune::nav
