#pragma once
// Triangles seen from above, found by place however unevenly they lie: a tree of halved boxes (Bentley, "Multidimensional binary search
// trees used for associative searching", 1975) that splits where many are, and across the way that parts them best.
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
  /// The most triangles that at() answers with.
  std::size_t mostAtOnce() const { return mostAtOnce_; }

 private:
  struct Node {
    std::int32_t child = -1;  // the first of two, or a leaf
    std::uint32_t start = 0, count = 0;
    int axis = 0;
    double at = 0;
  };
  struct Halves {
    std::vector<std::uint32_t> low, high;
  };
  struct Shapes {
    std::span<const std::array<Vec2, 3>> triangles;
    std::vector<Box2> boxes;  // of those that count
  };
  /// What is left to spend below a node.
  struct Budget {
    double copies;  // of its triangles: what lies in both halves of a cell is copied
    int stuck;
  };
  void split(std::size_t node, Box2 cell, std::vector<std::uint32_t>& items, Budget left, const Shapes& shapes);

  Box2 root_;
  std::size_t mostAtOnce_ = 0;
  std::vector<Node> nodes_;
  std::vector<std::uint32_t> items_;
};

}  // namespace dune
