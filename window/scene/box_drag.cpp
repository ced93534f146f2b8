#include "window/scene/box_drag.h"

namespace dune::window {

void BoxDrag::drag(const Pointer& p) {
  if (!begin_) return;
  if (const auto at = meetPlane(p.ray, begin_->y)) end_ = *at;
}

Box2 BoxDrag::box() const {
  Box2 box;
  if (begin_) box.add(plan(*begin_)), box.add(plan(end_));
  return box;
}

Polygon cornersOf(const Box2& box) { return {box.min, {box.max.x, box.min.y}, box.max, {box.min.x, box.max.y}}; }

void drawBox(DrawList& list, const Box2& box, double height, double width, double dash, std::uint32_t ink) {
  constexpr double kMostDashes = 60;  // a side
  const Polygon corners = cornersOf(box);
  for (std::size_t i = 0; i < 4; ++i) {
    const Vec3 a = lift(corners[i], height), b = lift(corners[(i + 1) % 4], height);
    if (dash > 0)
      list.dashed(a, b, std::max(dash, glm::distance(a, b) / kMostDashes), width, ink);
    else
      list.line(a, b, width, ink);
  }
}

}  // namespace dune::window
