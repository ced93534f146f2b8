#include "core/base/plan_tree.h"

#include <algorithm>

#include "core/base/plan_geometry.h"

namespace dune {

namespace {

constexpr std::size_t kFew = 16;    // triangles that a leaf may hold
constexpr double kSmallest = 0.02;  // m: smaller cells are not worth their lists
constexpr int kMostStuck = 1;       // splits one below the other that part next to nothing, as in a pile
constexpr double kParted = 0.7;     // of its triangles: two quarters with more, and the split parted nothing
constexpr double kMargin = 1e-6;    // m: cells overlap by that, so that rounding loses nothing

/// Whether all of a shape lies on the far side of a line through an edge of the triangle (separating axes).
bool apart(const std::array<Vec2, 3>& t, const Box2& box) {
  for (std::size_t e = 0; e < 3; ++e) {
    const Vec2 &a = t[e], &b = t[(e + 1) % 3], &c = t[(e + 2) % 3];
    const Vec2 normal = leftOf(b - a);
    double low = glm::dot(normal, a), high = low;
    const double third = glm::dot(normal, c);
    low = std::min(low, third), high = std::max(high, third);
    const Vec2 middle = (box.min + box.max) * 0.5, half = (box.max - box.min) * 0.5;
    const double at = glm::dot(normal, middle), reach = std::abs(normal.x) * half.x + std::abs(normal.y) * half.y;
    if (at + reach < low || at - reach > high) return true;
  }
  return false;
}

Box2 boxOf(const std::array<Vec2, 3>& t) {
  Box2 box;
  for (const Vec2& q : t) box.add(q);
  return box;
}

}  // namespace

Box2 PlanTree::Cell::box() const {
  Box2 box;
  box.add(low - Vec2(kMargin)), box.add(low + Vec2(size + kMargin));
  return box;
}

PlanTree::PlanTree(std::span<const std::array<Vec2, 3>> triangles, std::vector<std::uint32_t> which) {
  if (which.empty()) return;
  triangles_ = static_cast<std::size_t>(which.back()) + 1;
  Box2 all;
  for (const std::uint32_t i : which)
    for (const Vec2& q : triangles[i]) all.add(q);
  root_ = {all.min, std::max({all.max.x - all.min.x, all.max.y - all.min.y, kMargin})};
  nodes_.emplace_back();
  split(0, root_, which, 0, triangles);
}

void PlanTree::split(std::size_t node, const Cell& cell, std::vector<std::uint32_t>& items, int stuck,
                     std::span<const std::array<Vec2, 3>> triangles) {
  std::array<std::vector<std::uint32_t>, 4> quarters;
  bool splits = items.size() > kFew && cell.size > kSmallest;
  if (splits) {
    const Vec2 middle = cell.low + Vec2(cell.size / 2);
    const std::array<Box2, 4> boxes{cell.quarter(0).box(), cell.quarter(1).box(), cell.quarter(2).box(), cell.quarter(3).box()};
    for (const std::uint32_t t : items) {
      const Box2 own = boxOf(triangles[t]);
      const bool left = own.max.x<middle.x - kMargin, right = own.min.x> middle.x + kMargin;
      const bool low = own.max.y<middle.y - kMargin, high = own.min.y> middle.y + kMargin;
      if ((left || right) && (low || high)) {  // most lie in one quarter
        quarters[(right ? 1u : 0u) + (high ? 2u : 0u)].push_back(t);
        continue;
      }
      for (std::size_t i = 0; i < 4; ++i)
        if (own.overlaps(boxes[i]) && !apart(triangles[t], boxes[i])) quarters[i].push_back(t);
    }
    const auto full = std::ranges::count_if(
        quarters, [&](const auto& quarter) { return static_cast<double>(quarter.size()) > kParted * static_cast<double>(items.size()); });
    stuck = full <= 1 ? 0 : stuck + 1;
    splits = stuck <= kMostStuck;
  }
  if (!splits) {
    nodes_[node].start = static_cast<std::uint32_t>(items_.size()), nodes_[node].count = static_cast<std::uint32_t>(items.size());
    items_.insert(items_.end(), items.begin(), items.end());
    return;
  }
  items = {};  // not kept while the quarters are split
  const std::size_t child = nodes_.size();
  nodes_[node].child = static_cast<std::int32_t>(child);
  nodes_.resize(child + 4);
  for (int i = 0; i < 4; ++i)
    split(child + static_cast<std::size_t>(i), cell.quarter(i), quarters[static_cast<std::size_t>(i)], stuck, triangles);
}

std::span<const std::uint32_t> PlanTree::at(const Vec2& q) const {
  if (nodes_.empty() || !root_.box().contains(q)) return {};
  std::size_t node = 0;
  Cell cell = root_;
  while (nodes_[node].child >= 0) {
    const Vec2 middle = cell.low + Vec2(cell.size / 2);
    const int i = (q.x >= middle.x ? 1 : 0) + (q.y >= middle.y ? 2 : 0);
    node = static_cast<std::size_t>(nodes_[node].child + i), cell = cell.quarter(i);
  }
  return std::span(items_).subspan(nodes_[node].start, nodes_[node].count);
}

void PlanTree::along(const Vec2& a, const Vec2& b, double beside, std::vector<std::uint32_t>& out) const {
  out.clear();
  if (nodes_.empty()) return;
  struct Open {
    std::size_t node;
    Cell cell;
  };
  const std::array<Vec2, 3> line{a, b, b};
  const Box2 own = boxOf(line);
  thread_local std::vector<Open> open;
  open.assign(1, {0, root_});
  // A triangle lies in many leaves; the number of the question marks those that were met.
  thread_local std::vector<std::uint32_t> met;
  thread_local std::uint32_t question = 0;
  if (met.size() < triangles_) met.resize(triangles_, 0);
  if (++question == 0) std::ranges::fill(met, 0), question = 1;
  while (!open.empty()) {
    const auto [node, cell] = open.back();
    open.pop_back();
    const Box2 reach = cell.box().grown(beside);
    if (!own.overlaps(reach) || apart(line, reach)) continue;
    const Node& n = nodes_[node];
    if (n.child < 0) {
      for (const std::uint32_t i : std::span(items_).subspan(n.start, n.count))
        if (met[i] != question) met[i] = question, out.push_back(i);
      continue;
    }
    for (int i = 0; i < 4; ++i) open.push_back({static_cast<std::size_t>(n.child + i), cell.quarter(i)});
  }
}

}  // namespace dune
