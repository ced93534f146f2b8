#pragma once
// One sheet of ground turned into convex faces.

#include "core/generate/creases.h"

namespace dune::generate {

struct SheetFace {
  std::vector<LatticePoint> corners;
  std::vector<double> heights;
  std::uint16_t area;
};

struct SheetInput {
  const ground::Standing& standing;
  const ground::Clearance& clearance;
  const Cells& cells;
  const LineGrid<ground::StepLine>& steps;
  std::span<const ground::FoldLine> folds;
  const LineGrid<Crease>& creases;
  LatticeBox chunk;  ///< corners on its sides are kept, and agree with the chunk beyond
};

/// Simplified border, area outlines and step lines as constraints; points where the ground needs them; merged convex faces.
/// Empty when cancelled.
std::vector<SheetFace> meshSheet(const SheetInput& input, std::int32_t sheet, Job& job);

/// A line inside a sheet at which the agent must begin to crouch.
struct LowLine {
  LatticePoint a, b;
};
/// The lines between low ground of a sheet and the rest, corners that turn nowhere left out. O(storeys log storeys).
std::vector<LowLine> lowLines(const Cells& cells, std::int32_t sheet);

/// The border of a sheet: simplified closed chains, ground on the left.
struct SheetBorder {
  struct Corner {
    LatticePoint p;
    std::int32_t beyond = -1;  ///< the sheet on which the ground goes on over the edge that begins here
  };
  std::vector<std::vector<Corner>> loops;
  std::vector<LatticePoint> pinned;  ///< corners next to another sheet, and those at which low lines end: kept as they are; ascending
};
SheetBorder sheetBorder(const SheetInput& input, std::int32_t sheet, std::span<const LowLine> low);

}  // namespace dune::generate
