#include "core/crowd/point_grid.h"

#include <algorithm>
#include <cmath>

namespace dune::crowd {

void PointGrid::fill(std::span<const Vec2> points, double cell) {
  constexpr double kCellsForPoint = 4;
  starts_.clear(), numbers_.resize(points.size()), cells_.resize(points.size());
  if (points.empty()) return;
  Vec2 low = points[0], high = points[0];
  for (const Vec2& p : points) low = glm::min(low, p), high = glm::max(high, p);
  const Vec2 size = high - low;
  // In a wide field cells grow, in a long and thin one too.
  const double most = kCellsForPoint * static_cast<double>(points.size()) + 16;
  cell = std::max({cell, std::sqrt(size.x * size.y / most), std::max(size.x, size.y) / most});
  from_ = low, perMetre_ = 1 / cell;
  columns_ = static_cast<std::size_t>(size.x * perMetre_) + 1, rows_ = static_cast<std::size_t>(size.y * perMetre_) + 1;
  starts_.assign(columns_ * rows_ + 1, 0);
  for (std::size_t i = 0; i < points.size(); ++i) {
    cells_[i] = static_cast<std::uint32_t>(cellOf(points[i].y - low.y, rows_) * columns_ + cellOf(points[i].x - low.x, columns_));
    ++starts_[cells_[i] + 1];
  }
  for (std::size_t c = 1; c < starts_.size(); ++c) starts_[c] += starts_[c - 1];
  for (std::size_t i = points.size(); i-- > 0;) numbers_[--starts_[cells_[i] + 1]] = static_cast<std::uint32_t>(i);
  // Every start has moved down to the begin of its cell, one place too far up the list.
  for (std::size_t c = 0; c + 1 < starts_.size(); ++c) starts_[c] = starts_[c + 1];
  starts_.back() = static_cast<std::uint32_t>(points.size());
}

}  // namespace dune::crowd
