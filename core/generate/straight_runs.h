#pragma once
// Corners that are each nearly straight between their neighbours may bend a lot together.

#include <cmath>
#include <span>
#include <vector>

#include "core/generate/faces.h"

namespace dune::generate {

/// Of the corners of a closed loop that are about to go (`going`, by the number that `vertex` gives for a place in the loop), keeps those
/// that lie more than `within` metres above or below the straight line between the corners that stay. Runs until nothing changes in this
/// loop; returns whether anything was kept. O(corners squared at worst, corners as a rule).
template <class VertexAt, class PointOf>
bool keepBent(std::size_t count, VertexAt&& vertex, PointOf&& pointOf, std::vector<char>& going, double within) {
  std::size_t first = 0;
  while (first < count && going[vertex(first)]) ++first;
  if (first == count) return false;
  bool kept = false;
  for (std::size_t from = 0; from < count;) {
    std::size_t to = from + 1;
    while (going[vertex((first + to) % count)]) ++to;  // the first corner stays, so this ends
    const Vec3 a = pointOf(vertex((first + from) % count)), b = pointOf(vertex((first + to) % count));
    const double length = glm::distance(plan(a), plan(b));
    double most = within;
    std::size_t worst = to;
    for (std::size_t i = from + 1; i < to; ++i) {
      const Vec3 p = pointOf(vertex((first + i) % count));
      const double off = std::abs(p.y - glm::mix(a.y, b.y, glm::distance(plan(a), plan(p)) / length));
      if (off > most) most = off, worst = i;
    }
    if (worst == to) {
      from = to;
    } else {
      going[vertex((first + worst) % count)] = 0;
      kept = true;
    }
  }
  return kept;
}

/// Takes out corners that are straight in every face that has them, on one line in height too, unless pinned (sorted). T-junctions cannot
/// arise, because such a corner goes from all its faces at once. O(corners).
void dissolveStraightCorners(Faces& faces, std::span<const LatticePoint> pinned);

}  // namespace dune::generate
