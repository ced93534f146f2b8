#pragma once
// Boxes found by where they overlap another one, in height too: a tower of eighty storeys is looked at a storey at a time.

#include <cstdint>
#include <span>
#include <vector>

#include "core/base/plan_geometry.h"

namespace dune {

/// A tree of boxes around boxes, parted in the middle of the longest way (Goldsmith & Salmon, "Automatic creation of object hierarchies for
/// ray tracing", 1987, with halves in place of costs). Built once in O(n log n), then only read.
class BoxTree {
 public:
  BoxTree() = default;
  explicit BoxTree(std::vector<Box3> boxes);

  /// The numbers of the boxes that overlap `box`, sides included, ascending. O(log n) and those found, sorted.
  void collect(const Box3& box, std::vector<std::uint32_t>& out) const;
  std::vector<std::uint32_t> collect(const Box3& box) const {
    std::vector<std::uint32_t> out;
    return collect(box, out), out;
  }
  /// Whether any box overlaps it.
  bool any(const Box3& box) const;
  /// The numbers of the boxes that come nearer than `beside` to the segment ab seen from above, and between two heights.
  void along(const Vec2& a, const Vec2& b, double beside, const Interval& heights, std::vector<std::uint32_t>& out) const;

 private:
  /// Visits the boxes that are met, until the visitor returns true; whether one did.
  template <class Meets, class Visit>
  bool each(Meets&& meets, Visit&& visit) const;
  struct Node {
    Box3 box;
    std::uint32_t from, to;    // of items_; leaves only
    std::uint32_t second = 0;  // the second child; the first one follows its parent. 0 for a leaf
  };
  void split(std::uint32_t from, std::uint32_t to);

  std::vector<Box3> boxes_;
  std::vector<std::uint32_t> items_;
  std::vector<Node> nodes_;
};

}  // namespace dune
