#pragma once
// Whether a mesh keeps every promise of navmesh.h, so that whoever reads one may rely on them.

#include "core/nav/navmesh.h"

namespace dune::nav {

/// What is wrong with a mesh: arrays that do not fit, numbers out of their lists or not finite, an agent that makes no sense, faces that
/// are not convex or look down, neighbours that are not mutual or share part of an edge, islands that are not the connected pieces,
/// links whose ends do not lie on their faces. Empty when it keeps every promise. At most `most` sentences; O(corners of the mesh),
/// however the mesh is damaged.
std::vector<std::string> checkStructure(const NavMesh& mesh, std::size_t most = 20);

}  // namespace dune::nav
