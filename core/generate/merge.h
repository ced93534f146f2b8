#pragma once
// Triangles merged into convex faces (Hertel & Mehlhorn 1983), longest inner edges first, where faces stay flat.

#include <array>
#include <span>

#include "core/generate/faces.h"

namespace dune::generate {

struct MergeInput {
  std::span<const LatticePoint> points;
  std::span<const double> heights;                          ///< one a point
  std::span<const std::array<std::uint32_t, 3>> triangles;  ///< turning left
  std::span<const std::uint16_t> area;                      ///< one a triangle; faces of different areas stay apart
  double flat;                                              ///< metres a corner may be off the plane of its face
};

/// Convex faces; corners that have become straight are still there. O(n log n).
Faces mergeTriangles(const MergeInput& input);

/// Of one kind, and as few as the plan allows, whatever their heights. O(n log n).
std::vector<Loop> mergeInPlan(std::span<const LatticePoint> points, std::span<const std::array<std::uint32_t, 3>> triangles);

}  // namespace dune::generate
