#pragma once
// Triangles merged into convex faces (Hertel & Mehlhorn 1983), longest inner edges first, where faces stay flat.

#include <array>
#include <span>
#include <vector>

#include "core/base/lattice.h"

namespace dune::mesh {

struct MergeInput {
  std::span<const LatticePoint> points;
  std::span<const double> heights;                          ///< one a point
  std::span<const std::array<std::uint32_t, 3>> triangles;  ///< turning left
  std::span<const std::uint16_t> area;                      ///< one a triangle; faces of different areas stay apart
  std::span<const LatticePoint> pinned;                     ///< sorted; corners that must stay even where they are straight
  double flat;                                              ///< metres a corner may be off the plane of its face
};

/// Convex faces as loops of point numbers, turning left. Straight corners that no third face uses are gone. O(n log n).
std::vector<std::vector<std::uint32_t>> mergeTriangles(const MergeInput& input, std::vector<std::uint16_t>& area);

}  // namespace dune::mesh
