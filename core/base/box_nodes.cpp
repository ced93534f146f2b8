#include "core/base/box_nodes.h"

#include <algorithm>
#include <numeric>

namespace dune {

BoxNodes::BoxNodes(std::span<const Box3> boxes, std::uint32_t few) : order_(boxes.size()) {
  std::iota(order_.begin(), order_.end(), 0U);
  nodes_.reserve(2 * boxes.size() / few + 1);
  if (!order_.empty()) split(boxes, few, 0, static_cast<std::uint32_t>(order_.size()));
}

void BoxNodes::split(std::span<const Box3> boxes, std::uint32_t few, std::uint32_t from, std::uint32_t to) {
  Box3 around, centres;
  for (std::uint32_t i = from; i < to; ++i) {
    const Box3& box = boxes[order_[i]];
    around.add(box.min), around.add(box.max), centres.add(box.centre());
  }
  const std::size_t node = nodes_.size();
  nodes_.push_back({around, from, to, 0});
  if (to - from <= few) return;
  const Vec3 size = centres.size();
  const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
  const std::uint32_t middle = from + (to - from) / 2;
  const auto at = [&](std::uint32_t i) { return boxes[i].min[axis] + boxes[i].max[axis]; };
  std::nth_element(order_.begin() + from, order_.begin() + middle, order_.begin() + to,
                   [&](std::uint32_t a, std::uint32_t b) { return at(a) < at(b) || (at(a) == at(b) && a < b); });
  split(boxes, few, from, middle);
  nodes_[node].second = static_cast<std::uint32_t>(nodes_.size());
  split(boxes, few, middle, to);
}

}  // namespace dune
