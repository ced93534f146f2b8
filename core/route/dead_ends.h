#pragma once
// Ground that leads nowhere: what hangs on the rest by one edge or link only is of no use to a way that neither begins nor ends in it.
//
// The graph of faces falls into parts that no single edge parts (Tarjan, "A note on finding the bridges of a graph", Inf. Proc. Letters
// 1974); the edges between them form trees. A way goes along the tree from the part of its start to that of its goal and enters no other
// part: into a part beside it, it would have to come back over the very same edge. That pays only where ground in there is cheaper than the
// ground before the edge, and such edges do not part.

#include <cstdint>
#include <vector>

#include "core/nav/rules.h"
#include "core/route/layout.h"

namespace dune::route {

class DeadEnds {
 public:
  DeadEnds() = default;
  /// Of the ground and the links that the rules allow. O(corners + links).
  DeadEnds(const Adjacency& layout, const nav::Rules& rules);

  /// Whether a way to a goal may go from a face over an edge or a link to another; all three must be allowed ground. O(1).
  bool leadsTo(nav::FaceId from, nav::FaceId to, nav::FaceId goal) const {
    const std::uint32_t a = part_[nav::index(from)], b = part_[nav::index(to)], g = part_[nav::index(goal)];
    if (a == b) return true;
    return b > a ? g >= b && g <= last_[b] : g < a || g > last_[a];
  }

 private:
  std::vector<std::uint32_t> part_;  // one a face, numbered so that what hangs on a part has the numbers right after it
  std::vector<std::uint32_t> last_;  // one a part: the last number of what hangs on it
};

}  // namespace dune::route
