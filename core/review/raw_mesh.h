#pragma once
// A mesh as some file has it: nothing is promised of it, but that faces name corners that there are.

#include <vector>

#include "core/nav/navmesh.h"

namespace dune::review {

struct RawMesh {
  std::vector<Vec3> corners;                      ///< metres, Y up
  std::vector<std::vector<std::uint32_t>> faces;  ///< corners in order, either way round
};

/// One of ours, to be judged as others are.
RawMesh rawOf(const nav::NavMesh& mesh);

/// Corners that lie in one place become one, as files often have them once a face: `to` 1e-4 m. O(corners).
RawMesh welded(const RawMesh& mesh);

}  // namespace dune::review
