#pragma once
// Straight lines over a mesh.

#include "core/mesh/navmesh.h"

namespace dune::mesh {

/// The end of the straight line from a place towards `to`, where it meets the border first; follows the ground. O(faces crossed).
Vec3 sightEnd(const NavMesh& mesh, const Place& from, const Vec2& to, bool* reached);

}  // namespace dune::mesh
