#include "core/flight/triangle_distance.h"

#include <algorithm>

namespace dune::flight {

namespace {

Vec3 nearestOnSegment(const Vec3& a, const Vec3& b, const Vec3& p) {
  const Vec3 d = b - a;
  const double length = glm::dot(d, d);
  return length > 0 ? a + d * std::clamp(glm::dot(p - a, d) / length, 0.0, 1.0) : a;
}

double squared(const Vec3& v) { return glm::dot(v, v); }

/// For a triangle whose corners lie on a line, or nearly: the regions of the plane mean nothing there.
Vec3 nearestOnSides(const Corners& t, const Vec3& p) {
  Vec3 best = nearestOnSegment(t[0], t[1], p);
  for (const Vec3& q : {nearestOnSegment(t[1], t[2], p), nearestOnSegment(t[2], t[0], p)})
    if (squared(q - p) < squared(best - p)) best = q;
  return best;
}

}  // namespace

Vec3 nearestOn(const Corners& t, const Vec3& p) {
  const Vec3 ab = t[1] - t[0], ac = t[2] - t[0], ap = p - t[0];
  const double d1 = glm::dot(ab, ap), d2 = glm::dot(ac, ap);
  if (d1 <= 0 && d2 <= 0) return t[0];
  const Vec3 bp = p - t[1];
  const double d3 = glm::dot(ab, bp), d4 = glm::dot(ac, bp);
  if (d3 >= 0 && d4 <= d3) return t[1];
  const double vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return d1 - d3 > 0 ? t[0] + ab * (d1 / (d1 - d3)) : nearestOnSides(t, p);
  const Vec3 cp = p - t[2];
  const double d5 = glm::dot(ab, cp), d6 = glm::dot(ac, cp);
  if (d6 >= 0 && d5 <= d6) return t[2];
  const double vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return d2 - d6 > 0 ? t[0] + ac * (d2 / (d2 - d6)) : nearestOnSides(t, p);
  const double va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    const double sum = (d4 - d3) + (d5 - d6);
    return sum > 0 ? t[1] + (t[2] - t[1]) * ((d4 - d3) / sum) : nearestOnSides(t, p);
  }
  const double sum = va + vb + vc;
  if (!(sum > 1e-14 * squared(ab) * squared(ac))) return nearestOnSides(t, p);
  return t[0] + ab * (vb / sum) + ac * (vc / sum);
}

Meeting nearestBetween(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
  const Vec3 u = b - a, v = d - c, w = a - c;
  const double uu = squared(u), vv = squared(v), uv = glm::dot(u, v), uw = glm::dot(u, w), vw = glm::dot(v, w);
  double s = 0, t = 0;
  if (uu <= 0) {
    t = vv > 0 ? std::clamp(vw / vv, 0.0, 1.0) : 0;
  } else if (vv <= 0) {
    s = std::clamp(-uw / uu, 0.0, 1.0);
  } else {
    const double det = uu * vv - uv * uv;
    s = det > 0 ? std::clamp((uv * vw - uw * vv) / det, 0.0, 1.0) : 0;
    t = (uv * s + vw) / vv;
    if (t < 0)
      t = 0, s = std::clamp(-uw / uu, 0.0, 1.0);
    else if (t > 1)
      t = 1, s = std::clamp((uv - uw) / uu, 0.0, 1.0);
  }
  const Vec3 on = c + v * t;
  return {squared(a + u * s - on), s, on};
}

double crossing(const Vec3& a, const Vec3& b, const Corners& t) {
  const Vec3 way = b - a, e1 = t[1] - t[0], e2 = t[2] - t[0], h = glm::cross(way, e2);
  const double det = glm::dot(e1, h);
  if (det == 0) return -1;
  const Vec3 s = a - t[0];
  const double u = glm::dot(s, h) / det;
  if (!(u >= 0 && u <= 1)) return -1;
  const Vec3 q = glm::cross(s, e1);
  const double v = glm::dot(way, q) / det;
  if (!(v >= 0 && u + v <= 1)) return -1;
  const double along = glm::dot(e2, q) / det;
  return along >= 0 && along <= 1 ? along : -1;
}

Meeting nearestBetween(const Vec3& a, const Vec3& b, const Corners& triangle) {
  if (const double through = crossing(a, b, triangle); through >= 0) return {0, through, a + (b - a) * through};
  const Vec3 atA = nearestOn(triangle, a), atB = nearestOn(triangle, b);
  Meeting best{squared(a - atA), 0, atA};
  if (const double square = squared(b - atB); square < best.square) best = {square, 1, atB};
  for (std::size_t i = 0; i < 3; ++i)
    if (const Meeting m = nearestBetween(a, b, triangle[i], triangle[(i + 1) % 3]); m.square < best.square) best = m;
  return best;
}

bool comesNearer(const Vec3& a, const Vec3& b, const Corners& triangle, double square) {
  for (const Vec3& end : {a, b})
    if (squared(end - nearestOn(triangle, end)) < square) return true;
  for (std::size_t i = 0; i < 3; ++i)
    if (nearestBetween(a, b, triangle[i], triangle[(i + 1) % 3]).square < square) return true;
  return square > 0 && crossing(a, b, triangle) >= 0;
}

}  // namespace dune::flight
