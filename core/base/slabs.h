#pragma once
// Where a segment runs within boxes (slabs; Kay & Kajiya, "Ray tracing complex scenes", SIGGRAPH 1986).

#include <cmath>
#include <utility>

#include "core/base/bounds.h"

namespace dune {

/// A segment with its direction upside down, made once for many boxes.
struct Slabs {
  Vec3 from, inverse;
  Slabs(const Vec3& a, const Vec3& b) : from(a), inverse(of(b.x - a.x), of(b.y - a.y), of(b.z - a.z)) {}

  /// Between which shares of the segment, 0 to 1, it is in a box that is `grown` to all sides; the first above the second where it is not.
  std::pair<double, double> within(const Box3& box, double grown = 0) const {
    double enter = 0, leave = 1;
    for (int i = 0; i < 3; ++i) {
      const double low = box.min[i] - grown - from[i], high = box.max[i] + grown - from[i];
      const double t0 = low * inverse[i], t1 = high * inverse[i];
      enter = std::max(enter, std::min(t0, t1)), leave = std::min(leave, std::max(t0, t1));
    }
    return {enter, leave};
  }
  bool meets(const Box3& box, double grown = 0) const {
    const auto [enter, leave] = within(box, grown);
    return enter <= leave;
  }

 private:
  /// So large where it does not go that way that all of it is before, within, or behind; finite, so that nothing times it is nothing.
  static double of(double along) {
    constexpr double kMost = 1e200;
    return std::abs(along) > 1 / kMost ? 1 / along : kMost;
  }
};

}  // namespace dune
