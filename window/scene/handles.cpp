#include "window/scene/handles.h"

#include <QLineF>

#include "window/shell/theme.h"

namespace dune::window {

const Handle* handleNear(std::span<const Handle> handles, const Camera& camera, const QPointF& pixel) {
  constexpr double kReach = 14;  // pixels
  const Handle* best = nullptr;
  double least = kReach;
  for (const Handle& h : handles) {
    QPointF at;
    if (!camera.project(h.at, at)) continue;
    if (const double d = QLineF(at, pixel).length(); d < least) least = d, best = &h;
  }
  return best;
}

double alongLine(const Ray& ray, const Vec3& origin, const Vec3& direction) {
  // The nearest points of two lines (Ericson 2005, 5.1.8).
  const Vec3 between = origin - ray.origin;
  const double b = glm::dot(direction, ray.direction), c = glm::dot(direction, between), f = glm::dot(ray.direction, between);
  const double apart = 1 - b * b;
  return apart < 1e-9 ? 0 : (b * f - c) / apart;
}

void drawHandles(std::span<const Handle> handles, const Camera& camera, int active, DrawList& list) {
  for (const Handle& h : handles) {
    const double size = 0.011 * glm::distance(camera.eye(), h.at);
    const Vec3 up{0, size, 0};
    const bool chosen = h.id == active;
    for (int i = 0; i < 4; ++i) {
      const double a = i * kPi / 2, b = (i + 1) * kPi / 2;
      const Vec3 p = h.at + Vec3{size * std::cos(a), 0, size * std::sin(a)}, q = h.at + Vec3{size * std::cos(b), 0, size * std::sin(b)};
      for (const Vec3& tip : {h.at + up, h.at - up}) {
        list.triangle(p, q, tip, packed(chosen ? theme().text : theme().accent, 1));
        list.line(p, tip, 1.5, packed(theme().panel, 1));
        list.line(p, q, 1.5, packed(theme().panel, 1));
      }
    }
  }
}

}  // namespace dune::window
