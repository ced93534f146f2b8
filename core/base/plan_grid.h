#pragma once
// A uniform grid over plan boxes: which items may lie at a point or in a box. Built once, then only read.
//
// Items keep their order in every answer, so nothing that follows depends on how the grid was filled. The number of
// cells is bounded by the number of items, whatever their coordinates: one vertex far away makes cells large, not many.

#include <cstdint>
#include <span>
#include <vector>

#include "core/base/bounds.h"

namespace dune {

class PlanGrid {
 public:
  PlanGrid() = default;
  /// `cellHint`: the cell size wanted, metres; grown when the extent would need too many cells.
  PlanGrid(std::span<const Box2> boxes, double cellHint);

  /// The items of the cell that q lies in (a superset of those whose box holds q), ascending. O(1).
  std::span<const std::uint32_t> at(const Vec2& q) const;
  /// The items whose box overlaps `box`, ascending and each once.
  void collect(const Box2& box, std::vector<std::uint32_t>& out) const;
  std::vector<std::uint32_t> collect(const Box2& box) const {
    std::vector<std::uint32_t> out;
    return collect(box, out), out;
  }
  const Box2& bounds() const { return bounds_; }

 private:
  std::int64_t column(double u) const;
  std::int64_t row(double v) const;

  Box2 bounds_;
  double cell_ = 1;
  std::int64_t columns_ = 0, rows_ = 0;
  std::vector<Box2> boxes_;
  std::vector<std::uint32_t> start_, items_;
};

}  // namespace dune
