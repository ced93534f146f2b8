#include "core/base/plan_grid.h"

namespace dune {

namespace {
constexpr double kCellsPerItem = 8;   // beyond this an emptier grid only costs memory
constexpr double kLeastCells = 4096;  // small inputs may have a fine grid all the same
}  // namespace

PlanGrid::PlanGrid(std::span<const Box2> boxes, double cellHint) : boxes_(boxes.begin(), boxes.end()) {
  for (const Box2& box : boxes_) bounds_.add(box.min), bounds_.add(box.max);
  if (boxes_.empty()) return;
  const Vec2 size = bounds_.max - bounds_.min;
  const double allowed = std::max(kLeastCells, kCellsPerItem * static_cast<double>(boxes_.size()));
  cell_ = std::max({cellHint, std::sqrt(size.x * size.y / allowed), size.x / allowed, size.y / allowed, 1e-6});
  columns_ = static_cast<std::int64_t>(size.x / cell_) + 1;
  rows_ = static_cast<std::int64_t>(size.y / cell_) + 1;
  start_.assign(static_cast<std::size_t>(columns_ * rows_) + 1, 0);
  auto eachCell = [&](const Box2& box, auto&& visit) {
    for (std::int64_t r = row(box.min.y), r1 = row(box.max.y); r <= r1; ++r)
      for (std::int64_t c = column(box.min.x), c1 = column(box.max.x); c <= c1; ++c) visit(static_cast<std::size_t>(r * columns_ + c));
  };
  for (const Box2& box : boxes_) eachCell(box, [&](std::size_t cell) { ++start_[cell + 1]; });
  for (std::size_t i = 1; i < start_.size(); ++i) start_[i] += start_[i - 1];
  items_.resize(start_.back());
  std::vector<std::uint32_t> next(start_.begin(), start_.end() - 1);
  for (std::uint32_t i = 0; i < boxes_.size(); ++i) eachCell(boxes_[i], [&](std::size_t cell) { items_[next[cell]++] = i; });
}

std::int64_t PlanGrid::column(double u) const {
  return std::clamp(static_cast<std::int64_t>(std::clamp((u - bounds_.min.x) / cell_, -1.0, 1e9)), std::int64_t{0}, columns_ - 1);
}
std::int64_t PlanGrid::row(double v) const {
  return std::clamp(static_cast<std::int64_t>(std::clamp((v - bounds_.min.y) / cell_, -1.0, 1e9)), std::int64_t{0}, rows_ - 1);
}

std::span<const std::uint32_t> PlanGrid::at(const Vec2& q) const {
  if (boxes_.empty() || !bounds_.contains(q)) return {};
  const auto cell = static_cast<std::size_t>(row(q.y) * columns_ + column(q.x));
  return std::span(items_).subspan(start_[cell], start_[cell + 1] - start_[cell]);
}

void PlanGrid::collect(const Box2& box, std::vector<std::uint32_t>& out) const {
  out.clear();
  if (boxes_.empty() || !bounds_.overlaps(box)) return;
  const std::int64_t r0 = row(box.min.y), r1 = row(box.max.y), c0 = column(box.min.x), c1 = column(box.max.x);
  for (std::int64_t r = r0; r <= r1; ++r)
    for (std::int64_t c = c0; c <= c1; ++c) {
      const auto cell = static_cast<std::size_t>(r * columns_ + c);
      for (std::uint32_t i = start_[cell]; i < start_[cell + 1]; ++i) {
        const Box2& item = boxes_[items_[i]];
        // An item that is in several of the cells is taken in the first of them.
        if (item.overlaps(box) && r == std::max(r0, row(item.min.y)) && c == std::max(c0, column(item.min.x))) out.push_back(items_[i]);
      }
    }
  if (r0 != r1 || c0 != c1) std::sort(out.begin(), out.end());
}

}  // namespace dune
