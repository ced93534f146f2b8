#include "core/base/grown_convex.h"

namespace dune {

Polygon grownConvex(std::span<const Vec2> convex, double by) {
  constexpr int kRoundCorners = 16;  // of a full circle
  const double out = by / std::cos(kPi / kRoundCorners);
  std::vector<Vec2> points;
  for (const Vec2& c : convex)
    for (int i = 0; i < kRoundCorners; ++i) {
      const double a = 2 * kPi * (i + 0.5) / kRoundCorners;
      points.push_back(c + Vec2{std::cos(a), std::sin(a)} * out);
    }
  return convexHull(std::move(points));
}

}  // namespace dune
