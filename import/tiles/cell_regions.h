#pragma once
// Regions of square cells as few rectangles.

#include <compare>
#include <vector>

namespace dune::import {

struct Cell {
  int x, y;
  auto operator<=>(const Cell&) const = default;
};

/// A rectangle from (x0, y0) up to (x1, y1), that corner's cell excluded.
struct CellBox {
  int x0, y0, x1, y1;
};

/// The cells, in any order and any of them repeated, as rectangles that do not overlap: runs of a row, with equal runs of the
/// rows below joined to them. O(n log n).
std::vector<CellBox> rectanglesOf(std::vector<Cell> cells);

}  // namespace dune::import
