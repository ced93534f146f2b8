#pragma once
// Edges of faces paired with the same edges of other faces.

#include <algorithm>
#include <compare>
#include <cstdint>
#include <vector>

namespace dune::generate {

/// The edge that begins at a corner, on the side of its face.
struct HalfEdge {
  std::uint32_t low, high;  ///< its vertices, low < high
  bool forward;             ///< goes from low to high
  std::uint32_t corner, face;
  auto operator<=>(const HalfEdge&) const = default;

  static HalfEdge between(std::uint32_t a, std::uint32_t b, std::uint32_t corner, std::uint32_t face) {
    return {std::min(a, b), std::max(a, b), a < b, corner, face};
  }
};

/// Visits every pair of half-edges that are one edge in its two directions; each is in one pair at most. Sorts its input. O(n log n).
template <class Visit>
void eachPair(std::vector<HalfEdge>& halves, Visit&& visit) {
  std::sort(halves.begin(), halves.end());
  for (std::size_t i = 0; i + 1 < halves.size(); ++i) {
    const HalfEdge &x = halves[i], &y = halves[i + 1];
    if (x.low != y.low || x.high != y.high || x.forward == y.forward) continue;
    visit(x, y);
    ++i;
  }
}

}  // namespace dune::generate
