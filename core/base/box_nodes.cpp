#include "core/base/box_nodes.h"

#include <algorithm>
#include <array>
#include <cstdlib>
#include <numeric>
#include <optional>

#include "core/base/parallel.h"

namespace dune {

namespace {

constexpr int kBins = 16;  // places along an axis at which a node may be parted

/// Levels that are parted by cost; below them halves, so that a tree is at most so much deeper than log2(boxes).
constexpr int kByCost = 28;

/// Ranges of so many boxes or fewer are parts that are made side by side.
constexpr std::uint32_t kPart = 20000;

/// Nodes of more boxes are parted along their longest axis: others are seldom better there, and take three times as long to look at.
constexpr std::size_t kLarge = 10000;

int longest(const Vec3& size) { return size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2; }

/// Half the surface of a box: how likely something that is looked for meets it.
double surface(const Box3& box) {
  if (box.empty()) return 0;
  const Vec3 size = box.size();
  return size.x * size.y + size.y * size.z + size.z * size.x;
}

void add(Box3& to, const Box3& box) { to.add(box.min), to.add(box.max); }

/// Where the boxes of a node may be parted: by the bins of their centres along an axis.
struct Bins {
  int axis;
  double from, scale;
  Bins(int along, const Box3& centres) : axis(along), from(centres.min[along]), scale(kBins / (centres.max[along] - from)) {}
  int operator()(const Box3& box) const {
    return std::clamp(static_cast<int>(((box.min[axis] + box.max[axis]) / 2 - from) * scale), 0, kBins - 1);
  }
};

struct Cut {
  Bins bins;
  int last;  // bin of the first part
};

/// The cheapest cut: the least sum of surfaces times boxes of both parts, the most even one of equals.
std::optional<Cut> cheapest(std::span<const Box3> boxes, std::span<const std::uint32_t> which, const Box3& centres) {
  std::optional<Cut> best;
  double least = 0;
  std::int64_t uneven = 0;
  const auto all = static_cast<std::int64_t>(which.size());
  for (int axis = 0; axis < 3; ++axis) {
    if (!(centres.size()[axis] > 0) || (which.size() > kLarge && axis != longest(centres.size()))) continue;
    const Bins bins(axis, centres);
    std::array<Box3, kBins> around;
    std::array<std::int64_t, kBins> count{};
    for (const std::uint32_t i : which) {
      const auto bin = static_cast<std::size_t>(bins(boxes[i]));
      add(around[bin], boxes[i]), ++count[bin];
    }
    std::array<double, kBins> behind{};  // what the part from a bin on costs
    Box3 part;
    std::int64_t some = 0;
    for (std::size_t k = kBins; --k > 0;) {
      if (count[k]) add(part, around[k]);
      behind[k] = static_cast<double>(some += count[k]) * surface(part);
    }
    part = {}, some = 0;
    for (std::size_t k = 0; k + 1 < kBins; ++k) {
      if (count[k]) add(part, around[k]);
      some += count[k];
      if (some == 0 || some == all) continue;
      const double cost = static_cast<double>(some) * surface(part) + behind[k + 1];
      const std::int64_t off = std::abs(2 * some - all);
      if (!best || cost < least || (cost == least && off < uneven)) best = Cut{bins, static_cast<int>(k)}, least = cost, uneven = off;
    }
  }
  return best;
}

}  // namespace

BoxNodes::BoxNodes(std::span<const Box3> boxes, std::uint32_t few, Job* job) : order_(boxes.size()) {
  std::iota(order_.begin(), order_.end(), 0U);
  if (order_.empty()) return;
  std::vector<Node> top;
  std::vector<Part> parts;
  split(boxes, few, 0, static_cast<std::uint32_t>(order_.size()), 0, top, &parts);
  const auto one = [&](std::size_t i) { split(boxes, few, parts[i].from, parts[i].to, parts[i].level, parts[i].nodes, nullptr); };
  Job alone;
  if (parallelFor(job ? *job : alone, parts.size(), one, 1, 0, 0)) putTogether(top, parts);
}

void BoxNodes::split(std::span<const Box3> boxes, std::uint32_t few, std::uint32_t from, std::uint32_t to, int level,
                     std::vector<Node>& nodes, std::vector<Part>* parts) {
  const std::size_t node = nodes.size();
  if (parts && to - from <= kPart) {
    parts->push_back({node, from, to, level});
    nodes.emplace_back();
    return;
  }
  Box3 around, centres;
  for (std::uint32_t i = from; i < to; ++i) add(around, boxes[order_[i]]), centres.add(boxes[order_[i]].centre());
  nodes.push_back({around, from, to, 0});
  if (to - from <= few) return;
  const std::uint32_t middle = part(boxes, from, to, centres, level < kByCost);
  split(boxes, few, from, middle, level + 1, nodes, parts);
  nodes[node].second = static_cast<std::uint32_t>(nodes.size());
  split(boxes, few, middle, to, level + 1, nodes, parts);
}

/// The nodes of parts in the places that were left for them.
void BoxNodes::putTogether(const std::vector<Node>& top, const std::vector<Part>& parts) {
  std::size_t count = top.size() - parts.size(), next = 0;
  for (const Part& part : parts) count += part.nodes.size();
  nodes_.reserve(count);
  std::vector<std::uint32_t> now;  // one a node of `top`
  for (std::size_t i = 0; i < top.size(); ++i) {
    const auto base = static_cast<std::uint32_t>(nodes_.size());
    now.push_back(base);
    if (next == parts.size() || parts[next].node != i) {
      nodes_.push_back(top[i]);
      continue;
    }
    for (Node node : parts[next++].nodes) {
      if (!node.leaf()) node.second += base;
      nodes_.push_back(node);
    }
  }
  next = 0;
  for (std::size_t i = 0; i < top.size(); ++i) {
    if (next < parts.size() && parts[next].node == i)
      ++next;
    else if (!top[i].leaf())
      nodes_[now[i]].second = now[top[i].second];
  }
}

std::uint32_t BoxNodes::part(std::span<const Box3> boxes, std::uint32_t from, std::uint32_t to, const Box3& centres, bool byCost) {
  const auto begin = order_.begin() + from, end = order_.begin() + to;
  if (byCost)
    if (const std::optional<Cut> cut = cheapest(boxes, std::span(order_).subspan(from, to - from), centres)) {
      const auto middle = std::stable_partition(begin, end, [&](std::uint32_t i) { return cut->bins(boxes[i]) <= cut->last; });
      return static_cast<std::uint32_t>(middle - order_.begin());
    }
  const int axis = longest(centres.size());
  const std::uint32_t middle = from + (to - from) / 2;
  const auto at = [&](std::uint32_t i) { return boxes[i].min[axis] + boxes[i].max[axis]; };
  std::nth_element(begin, order_.begin() + middle, end,
                   [&](std::uint32_t a, std::uint32_t b) { return at(a) < at(b) || (at(a) == at(b) && a < b); });
  return middle;
}

}  // namespace dune
