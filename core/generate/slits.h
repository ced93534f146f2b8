#pragma once
// Slits: cells of a millimetre with ground on both sides that were judged to be none.
//
// Every forbidden place lies within a radius of the limit that forbids it, so what is forbidden is never thin: a thin cell without
// ground between ground is what rounding to the lattice makes of two lines that are one, or a crack that is joined. Left alone it would
// part what is one in the level.

#include <functional>
#include <vector>

#include "core/generate/triangulation.h"

namespace dune::generate {

/// The height of a triangle over its longest side.
double widthOf(const std::array<Vec2, 3>& corners);

/// What lies across a slit.
struct Across {
  std::vector<std::int32_t> cells;  ///< of the slit, from this side to the other
  std::int32_t beyond = -1;         ///< the first cell that is no part of it
  Vec2 at{};                        ///< where one comes out
};

/// Goes from the middle of edge `e` of a cell straight over its neighbour and on while cells are `empty`, for as long as it is a
/// slit. Nothing in `cells` where it is none. O(cells crossed).
Across acrossSlit(const Triangulation& plan, std::int32_t cell, int e, const std::function<bool(std::int32_t)>& empty);

}  // namespace dune::generate
