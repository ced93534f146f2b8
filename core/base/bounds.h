#pragma once
// Axis-aligned boxes in plan and in the world. An empty box has min > max and grows from there.

#include <algorithm>
#include <limits>

#include "core/base/vec.h"

namespace dune {

struct Box2 {
  Vec2 min{std::numeric_limits<double>::infinity()};
  Vec2 max{-std::numeric_limits<double>::infinity()};

  void add(const Vec2& p) { min = {std::min(min.x, p.x), std::min(min.y, p.y)}, max = {std::max(max.x, p.x), std::max(max.y, p.y)}; }
  bool empty() const { return min.x > max.x; }
  Box2 grown(double by) const { return {min - Vec2(by), max + Vec2(by)}; }
  bool overlaps(const Box2& b) const { return min.x <= b.max.x && b.min.x <= max.x && min.y <= b.max.y && b.min.y <= max.y; }
  bool contains(const Vec2& p) const { return p.x >= min.x && p.x <= max.x && p.y >= min.y && p.y <= max.y; }
};

struct Box3 {
  Vec3 min{std::numeric_limits<double>::infinity()};
  Vec3 max{-std::numeric_limits<double>::infinity()};

  void add(const Vec3& p) {
    for (int i = 0; i < 3; ++i) min[i] = std::min(min[i], p[i]), max[i] = std::max(max[i], p[i]);
  }
  bool empty() const { return min.x > max.x; }
  Vec3 centre() const { return (min + max) * 0.5; }
  Vec3 size() const { return max - min; }
  bool overlaps(const Box3& b) const {
    return min.x <= b.max.x && b.min.x <= max.x && min.y <= b.max.y && b.min.y <= max.y && min.z <= b.max.z && b.min.z <= max.z;
  }
  bool contains(const Vec3& p) const {
    return p.x >= min.x && p.x <= max.x && p.y >= min.y && p.y <= max.y && p.z >= min.z && p.z <= max.z;
  }
  bool operator==(const Box3&) const = default;
};

}  // namespace dune
