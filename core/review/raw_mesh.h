#pragma once
// Meshes as files have them, for those who judge them.

#include "core/level/raw_mesh.h"
#include "core/nav/navmesh.h"

namespace dune::review {

using level::RawMesh;

/// One of ours, to be judged as others are.
RawMesh rawOf(const nav::NavMesh& mesh);

/// Corners that lie in one place become one, as files often have them once a face: `to` 1e-4 m. O(corners).
RawMesh welded(const RawMesh& mesh);

}  // namespace dune::review
