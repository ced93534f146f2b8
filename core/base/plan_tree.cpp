#include "core/base/plan_tree.h"

#include <algorithm>

#include "core/base/plan_geometry.h"

namespace dune {

namespace {

constexpr std::size_t kFew = 20;    // triangles that a leaf may hold
constexpr int kMostStuck = 2;       // splits one below the other that part next to nothing, as in a pile
constexpr double kMostCopies = 4;   // times that all triangles of a cell may be copied on the way to a leaf: edges of a pile never part
constexpr double kSmallest = 2e-3;  // m
constexpr double kParted = 0.7;     // of its triangles: two halves with more, and the split parted nothing
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

/// The half of a cell below its middle along an axis, or above it.
Box2 halfOf(Box2 cell, int axis, bool high) {
  const double middle = (cell.min[axis] + cell.max[axis]) / 2;
  (high ? cell.min : cell.max)[axis] = middle;
  return cell;
}

/// Leaves out what of a cell no triangle lies in; a railing is parted in its own middle, not in that of the room.
void shrink(Box2& cell, std::span<const std::uint32_t> items, std::span<const Box2> boxes) {
  Box2 all;
  for (const std::uint32_t t : items) all.add(boxes[t].min), all.add(boxes[t].max);
  cell = {glm::clamp(all.min, cell.min, cell.max), glm::clamp(all.max, cell.min, cell.max)};
}

/// The axis across whose middle fewer triangles reach, by their boxes.
int betterAxis(const Box2& cell, std::span<const std::uint32_t> items, std::span<const Box2> boxes) {
  const Vec2 middle = (cell.min + cell.max) * 0.5, size = cell.max - cell.min;
  std::array<std::size_t, 2> across{};
  for (const std::uint32_t t : items)
    for (int axis = 0; axis < 2; ++axis)
      across[static_cast<std::size_t>(axis)] += boxes[t].min[axis] <= middle[axis] && boxes[t].max[axis] >= middle[axis];
  const int longer = size.x >= size.y ? 0 : 1;
  // A cell as long as that is left alone only for a good reason.
  return across[static_cast<std::size_t>(1 - longer)] * 2 < across[static_cast<std::size_t>(longer)] ? 1 - longer : longer;
}

}  // namespace

PlanTree::PlanTree(std::span<const std::array<Vec2, 3>> triangles, std::vector<std::uint32_t> which) {
  if (which.empty()) return;
  Shapes shapes{triangles, std::vector<Box2>(triangles.size())};
  for (const std::uint32_t i : which) {
    shapes.boxes[i] = boxOf(triangles[i]);
    root_.add(shapes.boxes[i].min), root_.add(shapes.boxes[i].max);
  }
  nodes_.emplace_back();
  split(0, root_, which, {kMostCopies, kMostStuck}, shapes);
}

void PlanTree::split(std::size_t node, Box2 cell, std::vector<std::uint32_t>& items, Budget left, const Shapes& shapes) {
  bool splits = items.size() > kFew && left.copies > 0;
  int axis = 0;
  Halves halves;
  if (splits) {
    shrink(cell, items, shapes.boxes);
    const Vec2 size = cell.max - cell.min;
    splits = std::max(size.x, size.y) > kSmallest;
  }
  if (splits) {
    axis = betterAxis(cell, items, shapes.boxes);
    const Box2 lower = halfOf(cell, axis, false).grown(kMargin), upper = halfOf(cell, axis, true).grown(kMargin);
    for (const std::uint32_t t : items) {
      const bool inLow = shapes.boxes[t].min[axis] <= lower.max[axis], inHigh = shapes.boxes[t].max[axis] >= upper.min[axis];
      if (inLow && (!inHigh || !apart(shapes.triangles[t], lower))) halves.low.push_back(t);
      if (inHigh && (!inLow || !apart(shapes.triangles[t], upper))) halves.high.push_back(t);
    }
    const auto all = static_cast<double>(items.size()), low = static_cast<double>(halves.low.size()),
               high = static_cast<double>(halves.high.size());
    left = {left.copies - (low + high - all) / all, std::min(low, high) > kParted * all ? left.stuck - 1 : kMostStuck};
    splits = left.stuck >= 0;
  }
  if (!splits) {
    nodes_[node].start = static_cast<std::uint32_t>(items_.size()), nodes_[node].count = static_cast<std::uint32_t>(items.size());
    items_.insert(items_.end(), items.begin(), items.end());
    mostAtOnce_ = std::max(mostAtOnce_, items.size());
    return;
  }
  items = {};  // not kept while the halves are split
  const std::size_t child = nodes_.size();
  nodes_[node] = {static_cast<std::int32_t>(child), 0, 0, axis, (cell.min[axis] + cell.max[axis]) / 2};
  nodes_.resize(child + 2);
  split(child, halfOf(cell, axis, false), halves.low, left, shapes);
  split(child + 1, halfOf(cell, axis, true), halves.high, left, shapes);
}

std::span<const std::uint32_t> PlanTree::at(const Vec2& q) const {
  if (nodes_.empty() || !root_.grown(kMargin).contains(q)) return {};
  const Node* node = nodes_.data();
  while (node->child >= 0) node = &nodes_[static_cast<std::size_t>(node->child) + (q[node->axis] >= node->at ? 1 : 0)];
  return std::span(items_).subspan(node->start, node->count);
}

}  // namespace dune
