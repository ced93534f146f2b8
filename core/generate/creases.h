#pragma once
// Where two pieces of ground go through each other, as terrain through a floor or a ramp that begins below it: the ground bends there, and
// no edge of the level says so.

#include <optional>

#include "core/base/lattice.h"
#include "core/base/plan_grid.h"
#include "core/generate/cells.h"

namespace dune::generate {

struct Crease {
  Vec2 a, b;      ///< plan
  double ya, yb;  ///< heights
};

/// The line that two slanting triangles have in common, seen from above; none where they hardly differ or it is too short to matter.
std::optional<Crease> creaseOf(const ground::Triangle& a, const ground::Triangle& b);
/// All that lie on the ground of a chunk.
class Creases {
 public:
  /// O(triangles · those that lie over or under each).
  Creases(const ground::Standing& standing, const Cells& cells, const LatticeBox& chunk);

  /// Calls `visit` for those whose boxes overlap one.
  template <class Visit>
  void eachNear(const Box2& box, Visit&& visit) const {
    thread_local std::vector<std::uint32_t> near;
    grid_.collect(box, near);
    for (const std::uint32_t i : near) visit(all_[i]);
  }

 private:
  std::vector<Crease> all_;
  PlanGrid grid_;
};

}  // namespace dune::generate
