#pragma once
// A tree of boxes around boxes, for those that look through it in ways of their own.

#include <cstdint>
#include <span>
#include <vector>

#include "core/base/bounds.h"

namespace dune {

class Job;

/// Parted where surfaces times boxes of both parts are least (Goldsmith & Salmon, "Automatic creation of object hierarchies for ray
/// tracing", 1987; in bins: Wald, "On fast construction of SAH-based bounding volume hierarchies", 2007), and into halves from a depth on,
/// so that it is never deeper than that and log2(boxes). The same for the same boxes. Built once in O(n log n), then only read.
class BoxNodes {
 public:
  struct Node {
    Box3 box;
    std::uint32_t from = 0, to = 0;  ///< of order(): what lies in it
    std::uint32_t second = 0;        ///< the second child; the first one follows its parent. 0 for a leaf
    bool leaf() const { return second == 0; }
  };
  BoxNodes() = default;
  /// `few`: boxes of a leaf, at most. With a job its parts are made side by side; a tree of a cancelled one is empty.
  BoxNodes(std::span<const Box3> boxes, std::uint32_t few, Job* job = nullptr);

  bool empty() const { return nodes_.empty(); }
  const Node& operator[](std::uint32_t i) const { return nodes_[i]; }
  /// The numbers of the boxes, those of a node side by side.
  const std::vector<std::uint32_t>& order() const { return order_; }
  /// Calls goesOn(place in order()) for what lies in leaves whose boxes, and all boxes around them, `meets` says yes to, until it returns
  /// false; whether it never did.
  template <class Meets, class GoesOn>
  bool each(Meets&& meets, GoesOn&& goesOn) const;

 private:
  /// A range of the order that is a part of its own.
  struct Part {
    std::size_t node;  // in whose place it goes
    std::uint32_t from, to;
    int level;
    std::vector<Node> nodes = {};
  };
  /// Adds the nodes of a range; with `parts` those of small ranges are left to them.
  void split(std::span<const Box3> boxes, std::uint32_t few, std::uint32_t from, std::uint32_t to, int level, std::vector<Node>& nodes,
             std::vector<Part>* parts);
  void putTogether(const std::vector<Node>& top, const std::vector<Part>& parts);
  /// Puts [from, to) of the order into two parts, none of them empty; where the second begins.
  std::uint32_t part(std::span<const Box3> boxes, std::uint32_t from, std::uint32_t to, const Box3& centres, bool byCost);

  std::vector<std::uint32_t> order_;
  std::vector<Node> nodes_;
};

template <class Meets, class GoesOn>
bool BoxNodes::each(Meets&& meets, GoesOn&& goesOn) const {
  if (nodes_.empty()) return true;
  std::uint32_t open[64], depth = 0;  // one a level, and no tree is deeper
  open[depth++] = 0;
  while (depth) {
    const std::uint32_t at = open[--depth];
    const Node& node = nodes_[at];
    if (!meets(node.box)) continue;
    if (!node.leaf()) {
      open[depth++] = node.second, open[depth++] = at + 1;
      continue;
    }
    for (std::uint32_t i = node.from; i < node.to; ++i)
      if (!goesOn(i)) return false;
  }
  return true;
}

}  // namespace dune
