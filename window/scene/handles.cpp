#include "window/scene/handles.h"

#include <QLineF>

#include "window/scene/theme.h"

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
  constexpr int kSides = 20;
  for (const Handle& h : handles) {
    const Vec3 towards = camera.eye() - h.at;
    const double size = std::min(0.0105 * glm::length(towards), h.largest);
    const Vec3 middle = h.at;
    const Vec3 across = glm::normalize(glm::cross(Vec3{0.01, 1, 0.02}, towards)), up = glm::normalize(glm::cross(towards, across));
    auto rim = [&](int i) {
      const double a = 2 * kPi * i / kSides;
      return middle + (across * std::cos(a) + up * std::sin(a)) * size;
    };
    for (int i = 0; i < kSides; ++i) {
      list.triangle(middle, rim(i), rim(i + 1), packed(h.id == active ? theme().text : theme().accent, 1));
      list.line(rim(i), rim(i + 1), 2, packed(theme().panel, 1));
    }
  }
}

}  // namespace dune::window
