#pragma once
// What lies beyond a line at which ground ends, as far as the joining distance: the first ground there, however many gaps follow each
// other.

#include "core/ground/standing.h"

namespace dune::ground {

class Gap {
 public:
  /// Beyond the line ab, away from `here` (of length 1), as far as `join`. Keeps references.
  Gap(const Standing& standing, const Vec2& a, const Vec2& b, const Vec2& here, double join, const Interval& heights);

  /// Where along the line, 0 … 1, the answer may change: see splitParameters().
  const std::vector<double>& splits() const { return splits_; }

  /// Those strictly between two places of the line.
  std::vector<Vec2> placesBetween(const Vec2& p, const Vec2& q) const;

  struct Ground {
    double depth;  ///< metres beyond the line
    double y;      ///< metres
  };
  /// The ground beyond a place q on the line that is within `reach` of height y: as far off as the joining distance where there is some,
  /// else the nearest. Exact: asked between every two edges of triangles that one crosses. O(triangles near the line).
  std::optional<Ground> beyond(const Vec2& q, double y, double reach) const;
  /// The same, but the nearest, at the edge at which it begins.
  std::optional<Ground> edgeBeyond(const Vec2& q, double y, double reach) const;

 private:
  std::optional<Ground> between(const Vec2& q, double y, double reach, double part) const;

  const Standing& standing_;
  Vec2 a_, b_, here_;
  double join_;
  std::vector<std::uint32_t> near_;
  std::vector<double> splits_;
};

}  // namespace dune::ground
