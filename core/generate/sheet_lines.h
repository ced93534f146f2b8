#pragma once
// Lines that the faces of a sheet must not span: outlines of areas, both sides of steps, folds.

#include "core/generate/sheet.h"

namespace dune::generate {

/// What an edge of a sheet's triangulation is, as a mask.
namespace edge {
constexpr std::uint8_t border = 1, area = 2, step = 4, low = 8;
constexpr std::uint8_t cut = 16;  ///< of the border: the ground goes on over it on another sheet
}  // namespace edge

struct SheetLine {
  Vec2 a, b;
  double low, high;  ///< heights of ground that it is about, in its middle
  double changes;    ///< by how much they may change in a metre
  std::uint8_t mask;
  std::vector<LatticePoint> through;  ///< corners of the border that it goes through instead of crossing it anywhere near
};

/// The lines of all sheets of a chunk; `steepest` is the rise of ground in a metre. O(steps + folds + corners of areas).
std::vector<SheetLine> sheetLines(const SheetInput& input, double steepest);

/// Heights that lines may have which cross an edge, and by how much more for each metre that they are long.
struct Heights {
  double low, high, perMetre;
};

/// Where lines cross an edge between two sheets: corners that both sheets get. Two lines that cross
/// each meet in a lattice point near the crossing; found by each sheet for itself, that would be another one.
void crossCut(std::vector<SheetLine>& lines, const LatticePoint& from, const LatticePoint& to, const Heights& heights,
              std::vector<LatticePoint>& corners);

/// Constrains a line, as far as it lies in a box.
void constrain(Triangulation& plan, const SheetLine& line, const Box2& box);

}  // namespace dune::generate
