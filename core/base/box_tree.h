#pragma once
// Boxes found by where they overlap another one, in height too: a tower of eighty storeys is looked at a storey at a time.

#include <cstdint>
#include <span>
#include <vector>

#include "core/base/box_nodes.h"
#include "core/base/plan_geometry.h"

namespace dune {

/// Built once in O(n log n), then only read; see BoxNodes.
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

  std::vector<Box3> boxes_;
  BoxNodes nodes_;
};

}  // namespace dune
