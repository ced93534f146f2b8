#pragma once
// Triangles seen from above, found by place however unevenly they lie: a quadtree that splits where many are.
//
// A uniform grid has cells for the usual density; a sofa of thirty thousand triangles on a floor of two fits none.

#include <array>
#include <cstdint>
#include <span>
#include <vector>

#include "core/base/bounds.h"

namespace dune {

class PlanTree {
 public:
  PlanTree() = default;
  /// The triangles of these numbers, ascending; they may be as thin as a line. O(n log n) for triangles that lie side by side.
  PlanTree(std::span<const std::array<Vec2, 3>> triangles, std::vector<std::uint32_t> which);

  /// A superset of the triangles that hold q, ascending. O(log n).
  std::span<const std::uint32_t> at(const Vec2& q) const;
  /// A superset of the triangles that come nearer than `beside` to the segment ab; each once, in an order that
  /// depends on the triangles alone. Replaces what is in `out`.
  void along(const Vec2& a, const Vec2& b, double beside, std::vector<std::uint32_t>& out) const;

 private:
  struct Node {
    std::int32_t child = -1;  // the first of four, or a leaf
    std::uint32_t start = 0, count = 0;
  };
  struct Cell {
    Vec2 low;
    double size;
    Box2 box() const;
    Cell quarter(int i) const { return {low + Vec2{i & 1 ? size / 2 : 0, i & 2 ? size / 2 : 0}, size / 2}; }
  };
  void split(std::size_t node, const Cell& cell, std::vector<std::uint32_t>& items, int stuck,
             std::span<const std::array<Vec2, 3>> triangles);

  Cell root_{{0, 0}, 0};
  std::size_t triangles_ = 0;  // one more than the highest number
  std::vector<Node> nodes_;
  std::vector<std::uint32_t> items_;
};

}  // namespace dune
