#include "core/flight/volume.h"

#include <algorithm>

namespace dune::flight {

namespace {

double content(const Box3& b) { return b.empty() ? 0 : b.size().x * b.size().y * b.size().z; }
bool holds(const Box3& outer, const Box3& inner) { return outer.contains(inner.min) && outer.contains(inner.max); }

}  // namespace

bool Volume::contains(const Vec3& p) const {
  return std::any_of(boxes_.begin(), boxes_.end(), [&](const Box3& b) { return b.contains(p); });
}

bool Volume::contains(const Vec3& a, const Vec3& b) const {
  for (const Box3& box : boxes_)
    if (box.contains(a) && box.contains(b)) return true;  // it is convex
  if (boxes_.size() < 2) return false;
  std::vector<std::pair<double, double>> parts;
  const Slabs slabs(a, b);
  for (const Box3& box : boxes_)
    if (const auto part = slabs.within(box); part.first <= part.second) parts.push_back(part);
  std::sort(parts.begin(), parts.end());
  double reached = 0;
  for (const auto& [from, to] : parts) {
    if (from > reached) return false;
    reached = std::max(reached, to);
  }
  return reached >= 1;
}

Box3 Volume::clip(const Box3& cell, bool& whole) const {
  Box3 most;
  for (const Box3& box : boxes_)
    if (const Box3 part = commonPart(box, cell); content(part) > content(most)) most = part;
  whole = true;
  for (const Box3& box : boxes_)
    if (const Box3 part = commonPart(box, cell); !part.empty() && !holds(most, part)) whole = false;
  return most;
}

Vec3 Volume::nearest(const Vec3& p) const {
  Vec3 best{};
  double least = std::numeric_limits<double>::infinity();
  for (const Box3& box : boxes_) {
    const Vec3 q = glm::clamp(p, box.min, box.max);
    if (const double square = glm::dot(q - p, q - p); square < least) least = square, best = q;
  }
  return best;
}

Box3 commonPart(const Box3& a, const Box3& b) {
  Box3 box;
  for (int i = 0; i < 3; ++i) box.min[i] = std::max(a.min[i], b.min[i]), box.max[i] = std::min(a.max[i], b.max[i]);
  for (int i = 0; i < 3; ++i)
    if (!(box.min[i] < box.max[i])) return {};
  return box;
}

std::vector<Box3> without(std::vector<Box3> boxes, std::span<const Box3> forbidden) {
  for (const Box3& no : forbidden) {
    std::vector<Box3> left;
    for (Box3 box : boxes) {
      if (commonPart(box, no).empty()) {
        left.push_back(box);
        continue;
      }
      // Below, above and to the sides of it, each as large as it may be: they overlap, so that no seam is between them.
      for (int axis = 0; axis < 3; ++axis) {
        Box3 low = box, high = box;
        low.max[axis] = no.min[axis], high.min[axis] = no.max[axis];
        for (const Box3& part : {low, high})
          if (part.min[axis] < part.max[axis]) left.push_back(part);
      }
    }
    boxes = std::move(left);
  }
  return boxes;
}

}  // namespace dune::flight
