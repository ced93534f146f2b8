#include "window/scene/arrow.h"

namespace dune::window {

void arrow(DrawList& list, const Vec3& from, const Vec3& to, double width, std::uint32_t colour) {
  const Vec3 d = to - from;
  const double length = glm::length(d);
  list.line(from, to, width, colour);
  if (length < 1e-6) return;
  const Vec3 ahead = d / length, side = glm::normalize(glm::cross(ahead, Vec3{0, 1, 0.001}));
  const double s = std::min(0.35, length * 0.4);
  list.line(to, to - ahead * s + side * (s * 0.6), width, colour);
  list.line(to, to - ahead * s - side * (s * 0.6), width, colour);
}

}  // namespace dune::window
