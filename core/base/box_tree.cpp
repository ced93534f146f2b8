#include "core/base/box_tree.h"

namespace dune {

namespace {

constexpr std::uint32_t kFew = 8;  // boxes of a leaf

}  // namespace

BoxTree::BoxTree(std::vector<Box3> boxes) : boxes_(std::move(boxes)), nodes_(boxes_, kFew) {}

template <class Meets, class Visit>
bool BoxTree::each(Meets&& meets, Visit&& visit) const {
  return !nodes_.each(meets, [&](std::uint32_t i) {
    const std::uint32_t item = nodes_.order()[i];
    return !meets(boxes_[item]) || !visit(item);
  });
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
  constexpr double kRounded = 1e-9;  // metres: a box that only touches the line meets it, as do those around it in the tree
  const double aside = (beside + kRounded) * glm::length(d);
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
