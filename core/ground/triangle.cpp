// The hot operation of the whole generator is covers(): it is asked for every triangle of a grid cell.

#include "core/ground/triangle.h"

namespace dune::ground {

namespace {

constexpr double kLeastArea = 1e-12;     // m²: thinner triangles carry no direction
constexpr double kUprightCosine = 1e-6;  // steeper than this a plane has no height worth computing

/// Orientation with a fixed order of the edge's ends, so that two triangles on both sides of an edge never both miss a point.
double side(const Vec2& a, const Vec2& b, const Vec2& at) {
  if (a.x < b.x || (a.x == b.x && a.y < b.y)) return cross(b - a, at - a);
  return -cross(a - b, at - b);
}

bool ownsSide(const Vec2& a, const Vec2& b, const Vec2& at) {
  const double s = side(a, b, at);
  return s > 0 || (s == 0 && (a.x < b.x || (a.x == b.x && a.y < b.y)));
}

}  // namespace

bool Triangle::covers(const Vec2& at) const {
  if (upright) return false;
  return side(q[0], q[1], at) >= 0 && side(q[1], q[2], at) >= 0 && side(q[2], q[0], at) >= 0;
}

bool Triangle::owns(const Vec2& at) const {
  return !upright && ownsSide(q[0], q[1], at) && ownsSide(q[1], q[2], at) && ownsSide(q[2], q[0], at);
}

Interval Triangle::heights() const {
  const auto [low, high] = std::minmax({p[0].y, p[1].y, p[2].y});
  return {low, high};
}

Box2 Triangle::box() const {
  Box2 box;
  for (const Vec2& corner : q) box.add(corner);
  return box;
}

std::optional<Triangle> makeTriangle(const std::array<Vec3, 3>& p) {
  Vec3 normal = glm::cross(p[1] - p[0], p[2] - p[0]);
  const double length = glm::length(normal);
  if (!(length > kLeastArea)) return std::nullopt;
  normal /= length;
  Triangle t{};
  t.p = p;
  if (normal.y < 0) {
    normal = -normal;
    std::swap(t.p[1], t.p[2]);
  }
  for (std::size_t i = 0; i < 3; ++i) t.q[i] = plan(t.p[i]);
  t.upright = normal.y < kUprightCosine;
  t.slope = std::atan2(std::hypot(normal.x, normal.z), normal.y);
  if (!t.upright) {
    t.gu = -normal.x / normal.y;
    t.gv = normal.z / normal.y;
    t.y0 = t.p[0].y - t.gu * t.q[0].x - t.gv * t.q[0].y;
  }
  return t;
}

std::optional<Triangle> makeTriangle(const level::Object& object, std::uint32_t triangle) {
  const auto& v = object.triangles[triangle];
  return makeTriangle({object.vertices[v[0]], object.vertices[v[1]], object.vertices[v[2]]});
}

}  // namespace dune::ground
