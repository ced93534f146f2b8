#pragma once
// Where an edge of a sheet's border needs corners because the ground bends under it.

#include "core/generate/sheet_heights.h"
#include "core/generate/tuning.h"

namespace dune::generate {

/// Beside a step heights are asked this far from it.
constexpr double kBesideJump = 1.2 * tuning::kStepStrip;

/// Whether a place is within so many metres of a step. O(steps around it).
bool isNearStep(const LineGrid<ground::StepLine>& steps, const Vec2& q, double within);

class SheetProfile {
 public:
  /// Keeps references to both.
  SheetProfile(const SheetInput& input, SheetHeights& heights) : in_(input), heights_(heights) {}

  /// Adds those of an edge where the ground ends.
  void edge(const LatticePoint& from, const LatticePoint& to, std::vector<LatticePoint>& more);
  /// Adds those of a side of the chunk, or of an edge between two sheets, from what lies on it alone, so that the chunk or sheet beyond
  /// comes to the same. `sheet`: whose heights count.
  void side(const LatticePoint& from, const LatticePoint& to, std::int32_t sheet, std::vector<LatticePoint>& more);

 private:
  struct Point {
    LatticePoint p;
    double y;
  };
  std::vector<double> splitsOf(const Vec2& a, const Vec2& b, double least, const Interval& heights) const;
  bool jumpsAt(const Vec2& q, const Vec2& along, std::int32_t sheet);
  void refine(const std::vector<Point>& points, std::size_t first, std::size_t last, std::vector<LatticePoint>& more) const;

  const SheetInput& in_;
  SheetHeights& heights_;
};

}  // namespace dune::generate
