#pragma once
// How high the ground of a sheet lies.

#include <limits>

#include "core/generate/sheet.h"

namespace dune::generate {

constexpr double kSeamJump = 0.01;  // m: more than slopes explain is a step

class SheetHeights {
 public:
  /// Keeps a reference to the input, which must outlive it.
  SheetHeights(const SheetInput& input, std::int32_t sheet);

  /// The rise of the steepest ground in one metre.
  double steepest() const { return ground::steepestRise(in_.standing.agent()); }
  /// Whether any ground of the sheet may lie between two heights.
  bool mayLie(double low, double high) const { return low <= high_ && high >= low_; }
  /// Height of this sheet's ground over q: followed from the centre of the nearest cell that belongs to it. For a place inside the sheet
  /// that is the cell it lies in; corners on the border touch cells on both sides. On a side of the chunk both chunks say the same.
  double at(const Vec2& q) { return at(q, sheet_); }
  /// The same of another sheet.
  double at(const Vec2& q, std::int32_t sheet);
  std::int32_t sheet() const { return sheet_; }
  /// The cell that a place lies in, or -1; `hint`: one near it.
  std::int32_t cellAt(const Vec2& q, std::int32_t& hint) const;

 private:
  double followedTo(const Vec2& q, std::int32_t sheet);
  std::int32_t nearestStorey(std::int32_t cell, const Vec2& q, std::int32_t sheet) const;
  bool isOwn(const Vec2& q, double found, std::int32_t cell, std::int32_t storey) const;
  double distanceToCell(std::int32_t cell, const Vec2& q) const;

  const SheetInput& in_;
  std::int32_t sheet_;
  double low_ = std::numeric_limits<double>::infinity(), high_ = -low_;
  std::int32_t hint_ = 0;
  std::vector<ground::Surface> column_;
};

}  // namespace dune::generate
