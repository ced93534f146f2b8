#pragma once
// How far a place is from the level's surface, for figures and tests. At a riser ground has two heights, and the riser between them is
// surface too: there a height error alone says nothing.

#include <algorithm>
#include <limits>

#include "core/ground/soup.h"

namespace dune::bench {

/// The point of a triangle nearest to p (Ericson 2005, Real-Time Collision Detection, 5.1.5).
inline Vec3 nearestOnTriangle(const std::array<Vec3, 3>& t, const Vec3& p) {
  const Vec3 ab = t[1] - t[0], ac = t[2] - t[0], ap = p - t[0];
  const double d1 = glm::dot(ab, ap), d2 = glm::dot(ac, ap);
  if (d1 <= 0 && d2 <= 0) return t[0];
  const Vec3 bp = p - t[1];
  const double d3 = glm::dot(ab, bp), d4 = glm::dot(ac, bp);
  if (d3 >= 0 && d4 <= d3) return t[1];
  if (d1 * d4 - d3 * d2 <= 0 && d1 >= 0 && d3 <= 0) return t[0] + ab * (d1 / (d1 - d3));
  const Vec3 cp = p - t[2];
  const double d5 = glm::dot(ab, cp), d6 = glm::dot(ac, cp);
  if (d6 >= 0 && d5 <= d6) return t[2];
  if (d5 * d2 - d1 * d6 <= 0 && d2 >= 0 && d6 <= 0) return t[0] + ac * (d2 / (d2 - d6));
  const double va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 >= d3 && d5 >= d6) return t[1] + (t[2] - t[1]) * ((d4 - d3) / ((d4 - d3) + (d5 - d6)));
  const double vb = d5 * d2 - d1 * d6, vc = d1 * d4 - d3 * d2, whole = va + vb + vc;
  return t[0] + ab * (vb / whole) + ac * (vc / whole);
}

/// Distance from p to the nearest triangle, metres; at most `reach`.
inline double surfaceDistance(const ground::Soup& soup, const Vec3& p, double reach) {
  Box2 box;
  box.add(plan(p));
  double least = reach;
  for (const std::uint32_t i : soup.near(box.grown(reach), {p.y - reach, p.y + reach}))
    least = std::min(least, glm::distance(p, nearestOnTriangle(soup.triangles()[i].p, p)));
  return least;
}

}  // namespace dune::bench
