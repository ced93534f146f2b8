#pragma once
// Which cells one gets to from which: by their common side where both are free, by a sweep of the body elsewhere.

#include "core/flight/space.h"

namespace dune::flight {

/// Two cells, and where the way between them bends if it must.
struct Tie {
  NodeId a = 0, b = 0;
  std::vector<Vec3> bends{};
};

/// The middle of what two cells that touch have in common; whether there is any.
bool commonSide(const Box3& a, const Box3& b, Vec3& middle);

/// The straight ties by sides of the cells [first, last), which are of one chunk, with cells that are larger, or as large and later. Reads
/// cells only.
std::vector<Tie> connectSides(const Space& space, NodeId first, NodeId last);

/// Those by sides, edges and corners, straight or not, of cells that are not free, where the two are not of one part yet; `part` is one a
/// cell.
std::vector<Tie> connectParts(const Space& space, NodeId first, NodeId last, const std::vector<std::uint32_t>& part);

}  // namespace dune::flight
