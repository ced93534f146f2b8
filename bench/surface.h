#pragma once
// How far a place is from the level's surface, for figures and tests. At a riser ground has two heights, and the riser between them is
// surface too: there a height error alone says nothing.

#include <algorithm>
#include <limits>

#include "core/flight/triangle_distance.h"
#include "core/ground/soup.h"

namespace dune::bench {

/// Distance from p to the nearest triangle, metres; at most `reach`.
inline double surfaceDistance(const ground::Soup& soup, const Vec3& p, double reach) {
  Box2 box;
  box.add(plan(p));
  double least = reach;
  for (const std::uint32_t i : soup.near(box.grown(reach), {p.y - reach, p.y + reach}))
    least = std::min(least, glm::distance(p, flight::nearestOn(soup.triangles()[i].p, p)));
  return least;
}

}  // namespace dune::bench
