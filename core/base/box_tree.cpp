#include "core/base/box_tree.h"

#include <numeric>

namespace dune {

namespace {

constexpr std::uint32_t kFew = 8;  // boxes of a leaf

}  // namespace

BoxTree::BoxTree(std::vector<Box3> boxes) : boxes_(std::move(boxes)), items_(boxes_.size()) {
  std::iota(items_.begin(), items_.end(), 0U);
  nodes_.reserve(boxes_.size() / 2 + 1);
  if (!items_.empty()) split(0, static_cast<std::uint32_t>(items_.size()));
}

void BoxTree::split(std::uint32_t from, std::uint32_t to) {
  Box3 around, centres;
  for (std::uint32_t i = from; i < to; ++i) {
    const Box3& box = boxes_[items_[i]];
    around.add(box.min), around.add(box.max), centres.add(box.centre());
  }
  const std::size_t node = nodes_.size();
  nodes_.push_back({around, from, to});
  if (to - from <= kFew) return;
  const Vec3 size = centres.size();
  const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
  const std::uint32_t middle = from + (to - from) / 2;
  const auto at = [&](std::uint32_t i) { return boxes_[i].min[axis] + boxes_[i].max[axis]; };
  std::nth_element(items_.begin() + from, items_.begin() + middle, items_.begin() + to,
                   [&](std::uint32_t a, std::uint32_t b) { return at(a) < at(b) || (at(a) == at(b) && a < b); });
  split(from, middle);
  nodes_[node].second = static_cast<std::uint32_t>(nodes_.size());
  split(middle, to);
}

template <class Meets, class Visit>
bool BoxTree::each(Meets&& meets, Visit&& visit) const {
  thread_local std::vector<std::uint32_t> open;
  open.clear();
  if (!nodes_.empty()) open.push_back(0);
  while (!open.empty()) {
    const std::uint32_t at = open.back();
    open.pop_back();
    const Node& node = nodes_[at];
    if (!meets(node.box)) continue;
    if (node.second != 0) {
      open.push_back(at + 1), open.push_back(node.second);
      continue;
    }
    for (std::uint32_t i = node.from; i < node.to; ++i)
      if (meets(boxes_[items_[i]]) && visit(items_[i])) return true;
  }
  return false;
}

void BoxTree::collect(const Box3& box, std::vector<std::uint32_t>& out) const {
  out.clear();
  each([&](const Box3& own) { return own.overlaps(box); }, [&](std::uint32_t i) { return out.push_back(i), false; });
  std::sort(out.begin(), out.end());
}

bool BoxTree::any(const Box3& box) const {
  return each([&](const Box3& own) { return own.overlaps(box); }, [](std::uint32_t) { return true; });
}

void BoxTree::along(const Vec2& a, const Vec2& b, double beside, const Interval& heights, std::vector<std::uint32_t>& out) const {
  out.clear();
  const Vec2 low = glm::min(a, b) - Vec2(beside), high = glm::max(a, b) + Vec2(beside), d = b - a;
  const double aside = beside * glm::length(d);
  const auto meets = [&](const Box3& own) {
    const Vec2 min = plan({own.min.x, 0, own.max.z}), max = plan({own.max.x, 0, own.min.z});
    if (own.min.y > heights.to || own.max.y < heights.from || min.x > high.x || max.x < low.x || min.y > high.y || max.y < low.y)
      return false;
    const Vec2 half = (max - min) * 0.5;  // the line itself parts them too
    return std::abs(cross(d, min + half - a)) <= aside + std::abs(d.x) * half.y + std::abs(d.y) * half.x;
  };
  each(meets, [&](std::uint32_t i) { return out.push_back(i), false; });
}

}  // namespace dune
