#pragma once
// A tree of boxes around boxes, for those that look through it in ways of their own.

#include <cstdint>
#include <span>
#include <vector>

#include "core/base/bounds.h"

namespace dune {

/// Parted in the middle of the longest way (Goldsmith & Salmon, "Automatic creation of object hierarchies for ray tracing", 1987, with
/// halves in place of costs), so that it is as deep as log2(boxes). The same for the same boxes. Built once in O(n log n), then only read.
class BoxNodes {
 public:
  struct Node {
    Box3 box;
    std::uint32_t from = 0, to = 0;  ///< of order(): what lies in it
    std::uint32_t second = 0;        ///< the second child; the first one follows its parent. 0 for a leaf
    bool leaf() const { return second == 0; }
  };
  BoxNodes() = default;
  /// `few`: boxes of a leaf, at most.
  BoxNodes(std::span<const Box3> boxes, std::uint32_t few);

  bool empty() const { return nodes_.empty(); }
  const Node& operator[](std::uint32_t i) const { return nodes_[i]; }
  /// The numbers of the boxes, those of a node side by side.
  const std::vector<std::uint32_t>& order() const { return order_; }

 private:
  void split(std::span<const Box3> boxes, std::uint32_t from, std::uint32_t to);

  std::uint32_t few_ = 1;
  std::vector<std::uint32_t> order_;
  std::vector<Node> nodes_;
};

}  // namespace dune
