#pragma once
// Lines of points that are gone along.

#include <algorithm>
#include <limits>
#include <span>

#include "core/base/vec.h"

namespace dune {

/// Metres from the first point to the last. O(points).
inline double lengthOf(std::span<const Vec3> line) {
  double length = 0;
  for (std::size_t i = 1; i < line.size(); ++i) length += glm::distance(line[i - 1], line[i]);
  return length;
}

/// The place so many metres after the first point; an end where it is past that. At least one point. O(points).
inline Vec3 placeAlong(std::span<const Vec3> line, double metres) {
  if (metres <= 0) return line.front();
  for (std::size_t i = 1; i < line.size(); ++i) {
    const double leg = glm::distance(line[i - 1], line[i]);
    if (metres <= leg && leg > 0) return glm::mix(line[i - 1], line[i], metres / leg);
    metres -= leg;
  }
  return line.back();
}

/// How far a place is from the nearest one of it, metres; infinite for fewer than two points. O(points).
inline double distanceToLine(std::span<const Vec3> line, const Vec3& at) {
  double least = std::numeric_limits<double>::infinity();
  for (std::size_t i = 1; i < line.size(); ++i) {
    const Vec3 along = line[i] - line[i - 1];
    const double length2 = glm::dot(along, along);
    const double share = length2 > 0 ? std::clamp(glm::dot(at - line[i - 1], along) / length2, 0.0, 1.0) : 0;
    least = std::min(least, glm::distance(line[i - 1] + along * share, at));
  }
  return least;
}

}  // namespace dune
