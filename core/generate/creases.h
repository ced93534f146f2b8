#pragma once
// Where two pieces of ground go through each other, as terrain through a floor or a ramp that begins below it: the ground bends there, and
// no edge of the level says so.

#include <optional>

#include "core/base/lattice.h"
#include "core/base/line_grid.h"
#include "core/generate/cells.h"

namespace dune::generate {

struct Crease {
  Vec2 a, b;      ///< plan
  double ya, yb;  ///< heights
};

/// The line that two slanting triangles have in common, seen from above; none where they hardly differ or it is too short to matter.
std::optional<Crease> creaseOf(const ground::Triangle& a, const ground::Triangle& b);
/// All that lie on the ground of a chunk, or come to its sides. O(triangles · those that lie over or under each).
LineGrid<Crease> findCreases(const ground::Standing& standing, const Cells& cells, const LatticeBox& chunk);

}  // namespace dune::generate
