#include "window/scene/picking.h"

#include <limits>

namespace dune::window {

namespace {

bool meetsBox(const Ray& ray, const Box3& box, double most) {
  double from = 0, to = most;
  for (int i = 0; i < 3; ++i) {
    const double inverse = 1 / ray.direction[i];
    double a = (box.min[i] - ray.origin[i]) * inverse, b = (box.max[i] - ray.origin[i]) * inverse;
    if (a > b) std::swap(a, b);
    from = std::max(from, a - 1e-9), to = std::min(to, b + 1e-9);
  }
  return from <= to;
}

/// Möller & Trumbore 1997, both sides; the parameter along the ray, or infinity.
double meets(const Ray& ray, const Vec3& a, const Vec3& b, const Vec3& c) {
  constexpr double kNone = std::numeric_limits<double>::infinity();
  const Vec3 e1 = b - a, e2 = c - a, p = glm::cross(ray.direction, e2);
  const double det = glm::dot(e1, p);
  if (std::abs(det) < 1e-14) return kNone;
  const Vec3 s = ray.origin - a;
  const double u = glm::dot(s, p) / det;
  if (u < 0 || u > 1) return kNone;
  const Vec3 q = glm::cross(s, e1);
  const double v = glm::dot(ray.direction, q) / det;
  if (v < 0 || u + v > 1) return kNone;
  const double t = glm::dot(e2, q) / det;
  return t > 0 ? t : kNone;
}

}  // namespace

std::optional<Picked> pick(const level::Level& level, const Ray& ray, double cutAway) {
  std::optional<Picked> best;
  double least = std::numeric_limits<double>::infinity();
  for (std::size_t o = 0; o < level.objects.size(); ++o) {
    const level::Object& object = level.objects[o];
    if (!meetsBox(ray, object.bounds(), least)) continue;
    for (const auto& t : object.triangles) {
      const double d = meets(ray, object.vertices[t[0]], object.vertices[t[1]], object.vertices[t[2]]);
      if (d >= least) continue;
      const Vec3 at = ray.origin + ray.direction * d;
      if (at.y > cutAway) continue;
      least = d;
      best = Picked{at, o};
    }
  }
  return best;
}

std::optional<Vec3> meetPlane(const Ray& ray, double y) {
  if (std::abs(ray.direction.y) < 1e-9) return std::nullopt;
  const double t = (y - ray.origin.y) / ray.direction.y;
  if (t <= 0) return std::nullopt;
  return ray.origin + ray.direction * t;
}

}  // namespace dune::window
