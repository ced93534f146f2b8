#pragma once
// What differs between the triangles that a space was made from and those that it is to be made from now.

#include <span>
#include <vector>

#include "core/base/box_nodes.h"
#include "core/flight/obstacles.h"

namespace dune::flight {

/// Where triangles came, went, or changed their order among those that are in both lists: what is asked where none of them is near has the
/// same answer over both. Triangles are told by their corners alone.
class Changes {
 public:
  /// O(n log n).
  Changes(std::span<const Barrier> before, std::span<const Barrier> now, std::vector<Box3> others = {});
  bool any() const { return !nodes_.empty(); }
  /// Whether a triangle that changed comes into a box, by its own box. O(log n).
  bool touch(const Box3& box) const;

 private:
  std::vector<Box3> boxes_;
  BoxNodes nodes_;
};

}  // namespace dune::flight
