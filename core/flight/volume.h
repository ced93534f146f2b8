#pragma once
// Where a body may be: boxes. It is the middle of the body that stays within.

#include <span>
#include <vector>

#include "core/base/bounds.h"
#include "core/flight/obstacles.h"

namespace dune::flight {

/// Boxes of the stretched space; a place is within when any holds it.
class Volume {
 public:
  Volume() = default;
  explicit Volume(std::vector<Box3> boxes) : boxes_(std::move(boxes)) {}

  const std::vector<Box3>& boxes() const { return boxes_; }
  bool contains(const Vec3& p) const;
  /// Whether all of the segment is within.
  bool contains(const Vec3& a, const Vec3& b) const;
  /// The part of a cell that is within, where that is one box; `whole` says whether it is all that is within of it.
  Box3 clip(const Box3& cell, bool& whole) const;
  /// The place within that is nearest to `p`. There must be a box.
  Vec3 nearest(const Vec3& p) const;

 private:
  std::vector<Box3> boxes_;
};

/// Boxes in which one may be, less some in which one may not, as boxes. O(boxes · forbidden).
std::vector<Box3> without(std::vector<Box3> boxes, std::span<const Box3> forbidden);
/// The part that two boxes have in common; empty where they have no room in common.
Box3 commonPart(const Box3& a, const Box3& b);

}  // namespace dune::flight
