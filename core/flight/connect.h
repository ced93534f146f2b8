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

/// The cells [first, last) of a chunk, and what is known from before: of pairs of cells that are both of chunks that are the same.
struct ChunkCells {
  NodeId first = 0, last = 0;
  const Answers* known = nullptr;  ///< none where the chunk is not the same
  const std::vector<char>& same;   ///< one a chunk
};

struct Tied {
  std::vector<Tie> ties;
  Answers answers;  ///< to all that was asked, for the next time
};

/// The straight ties by sides of a chunk's cells with cells that are larger, or as large and later. Reads cells only.
Tied connectSides(const Space& space, const ChunkCells& chunk);

/// Those by sides, edges and corners, straight or not, of cells that are not free, where the two are not of one part yet; `part` is one a
/// cell.
Tied connectParts(const Space& space, const ChunkCells& chunk, const std::vector<std::uint32_t>& part);

}  // namespace dune::flight
