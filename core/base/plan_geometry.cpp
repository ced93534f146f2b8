#include "core/base/plan_geometry.h"

#include <algorithm>
#include <limits>

namespace dune {

double doubleArea(std::span<const Vec2> polygon) {
  double sum = 0;
  for (std::size_t i = 0, n = polygon.size(); i < n; ++i) sum += cross(polygon[i] - polygon[0], polygon[(i + 1) % n] - polygon[0]);
  return sum;
}

bool contains(std::span<const Vec2> polygon, const Vec2& q) {
  bool inside = false;
  for (std::size_t i = 0, j = polygon.size() - 1; i < polygon.size(); j = i++) {
    const Vec2 &a = polygon[i], &b = polygon[j];
    if ((a.y > q.y) != (b.y > q.y) && q.x < a.x + (q.y - a.y) * (b.x - a.x) / (b.y - a.y)) inside = !inside;
  }
  return inside;
}

Vec2 nearestOnSegment(const Vec2& a, const Vec2& b, const Vec2& q) {
  const Vec2 d = b - a;
  const double length2 = glm::dot(d, d);
  if (length2 == 0) return a;
  return a + d * std::clamp(glm::dot(q - a, d) / length2, 0.0, 1.0);
}

Vec2 nearestOnConvex(std::span<const Vec2> convex, const Vec2& q) {
  const std::size_t n = convex.size();
  if (n == 1) return convex[0];
  if (n == 2) return nearestOnSegment(convex[0], convex[1], q);
  bool inside = true;
  Vec2 best = convex[0];
  double bestDistance = std::numeric_limits<double>::infinity();
  for (std::size_t i = 0; i < n; ++i) {
    const Vec2 &a = convex[i], &b = convex[(i + 1) % n];
    if (cross(b - a, q - a) >= 0) continue;
    inside = false;
    const Vec2 p = nearestOnSegment(a, b, q);
    const double d = glm::distance(p, q);
    if (d < bestDistance) best = p, bestDistance = d;
  }
  return inside ? q : best;
}

Outward outOfConvex(std::span<const Vec2> convex, const Vec2& q) {
  const Vec2 nearest = nearestOnConvex(convex, q);
  if (const double d = glm::distance(nearest, q); d > 1e-9) return {d, (q - nearest) / d};
  if (convex.size() < 3) return {0, {1, 0}};
  Outward best{-std::numeric_limits<double>::infinity(), {1, 0}};
  for (std::size_t i = 0; i < convex.size(); ++i) {
    const Vec2 a = convex[i], edge = convex[(i + 1) % convex.size()] - a;
    const Vec2 out = -leftOf(edge) / std::max(1e-12, glm::length(edge));
    if (const double d = glm::dot(q - a, out); d > best.distance) best = {d, out};
  }
  return best;
}

Polygon convexHull(std::vector<Vec2> points) {
  auto less = [](const Vec2& a, const Vec2& b) { return a.x < b.x || (a.x == b.x && a.y < b.y); };
  std::sort(points.begin(), points.end(), less);
  points.erase(std::unique(points.begin(), points.end()), points.end());
  if (points.size() < 3) return points;
  Polygon hull;
  for (int pass = 0; pass < 2; ++pass) {  // Andrew's monotone chain, lower then upper
    const std::size_t base = hull.size();
    for (const Vec2& p : points) {
      while (hull.size() >= base + 2 && cross(hull.back() - hull[hull.size() - 2], p - hull.back()) <= 0) hull.pop_back();
      hull.push_back(p);
    }
    hull.pop_back();
    std::reverse(points.begin(), points.end());
  }
  return hull;
}

std::optional<Interval> clipToBox(const Vec2& a, const Vec2& b, const Box2& box) {
  Interval t{0, 1};
  for (int axis = 0; axis < 2; ++axis)
    for (const bool upper : {false, true}) {
      const double side = upper ? box.max[axis] : box.min[axis], sign = upper ? -1 : 1;
      const double da = sign * (a[axis] - side), db = sign * (b[axis] - side);
      if (da < 0 && db < 0) return std::nullopt;
      const double at = (side - a[axis]) / (b[axis] - a[axis]);
      if (da < 0) t.from = std::max(t.from, at);
      if (db < 0) t.to = std::min(t.to, at);
    }
  if (t.from > t.to) return std::nullopt;
  return t;
}

std::vector<Interval> complement(std::vector<Interval> covered, double least) {
  std::sort(covered.begin(), covered.end(), [](const Interval& a, const Interval& b) { return a.from < b.from; });
  std::vector<Interval> rest;
  double at = 0;
  for (const Interval& c : covered) {
    if (c.from - at > least) rest.push_back({at, c.from});
    at = std::max(at, c.to);
  }
  if (1 - at > least) rest.push_back({at, 1});
  return rest;
}

std::optional<double> crossingParameter(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
  const double top = cross(d - c, a - c), bottom = top - cross(d - c, b - c);
  if (bottom == 0) return std::nullopt;
  const double t = top / bottom;
  const double dc = cross(b - a, c - a), dd = cross(b - a, d - a);
  if ((dc > 0 && dd > 0) || (dc < 0 && dd < 0)) return std::nullopt;
  return t;
}

void clipByPlane(std::vector<Vec3>& polygon, const Vec3& normal, double offset) {
  std::vector<Vec3> kept;
  kept.reserve(polygon.size() + 1);
  for (std::size_t i = 0, n = polygon.size(); i < n; ++i) {
    const Vec3 &a = polygon[i], &b = polygon[(i + 1) % n];
    const double da = glm::dot(normal, a) - offset, db = glm::dot(normal, b) - offset;
    if (da <= 0) kept.push_back(a);
    if ((da < 0 && db > 0) || (da > 0 && db < 0)) kept.push_back(a + (b - a) * (da / (da - db)));
  }
  polygon = std::move(kept);
}

void clipByLine(std::vector<Vec3>& polygon, const Vec2& a, const Vec2& b, bool left) {
  const Vec2 normal = leftOf(b - a) / glm::distance(a, b);
  const Vec3 upright = lift(normal, 0);
  clipByPlane(polygon, left ? -upright : upright, (left ? -1 : 1) * glm::dot(normal, a));
}

double planArea(std::span<const Vec3> polygon) {
  double twice = 0;
  for (std::size_t i = 0; i < polygon.size(); ++i) twice += cross(plan(polygon[i]), plan(polygon[(i + 1) % polygon.size()]));
  return twice / 2;
}

Vec3 meanOf(std::span<const Vec3> points) {
  Vec3 sum{0};
  for (const Vec3& p : points) sum += p;
  return sum / static_cast<double>(points.size());
}

void clipToBox(std::vector<Vec3>& polygon, const Box2& box) {
  clipByPlane(polygon, {-1, 0, 0}, -box.min.x), clipByPlane(polygon, {1, 0, 0}, box.max.x);
  clipByPlane(polygon, {0, 0, 1}, -box.min.y), clipByPlane(polygon, {0, 0, -1}, box.max.y);  // plan y is -z
}

}  // namespace dune
