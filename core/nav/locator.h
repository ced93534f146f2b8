#pragma once
// Finds faces by place. Built once a mesh, then only read, from any thread.

#include "core/base/plan_grid.h"
#include "core/nav/navmesh.h"

namespace dune::nav {

class Locator {
 public:
  Locator() = default;
  /// Keeps a reference: the mesh must outlive it. O(faces).
  explicit Locator(const NavMesh& mesh);

  /// The place on the mesh straight above or below p nearest in height, no farther than `reach` metres; invalid when none.
  Place under(const Vec3& p, double reach) const;
  /// The place on the mesh nearest to p in space, no farther than `within` metres; invalid when none.
  Place nearest(const Vec3& p, double within) const;

  /// The numbers of the faces whose box in plan meets this one, ascending. O(cells of the box + found).
  std::vector<std::uint32_t> within(const Box2& box) const { return grid_.collect(box); }

 private:
  const NavMesh* mesh_ = nullptr;
  PlanGrid grid_;
};

}  // namespace dune::nav
