#pragma once
// Points in plan, found again by place: what a step of a crowd asks most often.

#include <algorithm>
#include <cstdint>
#include <span>
#include <vector>

#include "core/base/bounds.h"

namespace dune::crowd {

class PointGrid {
 public:
  /// Sorts points into square cells of at least `cell` metres, and no more cells than a few for each point. O(points).
  void fill(std::span<const Vec2> points, double cell);
  /// The numbers of the points in the order of their cells.
  const std::vector<std::uint32_t>& order() const { return numbers_; }
  /// Calls with the begin and the end of stretches of that order, together every point in the cells that a square of `reach` metres around
  /// a place touches, always in the same order.
  template <class Visit>
  void around(const Vec2& at, double reach, Visit&& visit) const {
    if (starts_.empty()) return;
    const std::size_t left = cellOf(at.x - reach - from_.x, columns_), right = cellOf(at.x + reach - from_.x, columns_);
    const std::size_t top = cellOf(at.y - reach - from_.y, rows_), bottom = cellOf(at.y + reach - from_.y, rows_);
    for (std::size_t row = top; row <= bottom; ++row)  // the cells of a row lie beside each other
      visit(starts_[row * columns_ + left], starts_[row * columns_ + right + 1]);
  }

 private:
  std::size_t cellOf(double metres, std::size_t count) const {
    const double cell = metres * perMetre_;
    return cell <= 0 ? 0 : std::min(static_cast<std::size_t>(std::min(cell, 1e9)), count - 1);
  }

  Vec2 from_{0};
  double perMetre_ = 1;  // cells
  std::size_t columns_ = 0, rows_ = 0;
  std::vector<std::uint32_t> starts_, numbers_, cells_;
};

}  // namespace dune::crowd
