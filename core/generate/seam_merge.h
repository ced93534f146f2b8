#pragma once
// Faces that only the line between two chunks keeps apart, merged as if there were no chunks.

#include "core/nav/navmesh.h"

namespace dune::generate {

/// An edge shared by two faces on the line between two chunks: the number of one of its two corners in NavMesh::corners.
using SeamEdges = std::vector<std::uint32_t>;

/// Merges over the given edges, longest first, where faces stay convex and flat and have one area (Hertel & Mehlhorn 1983), and then
/// takes out corners on them that are straight in every face. Islands are left as they are. O(faces + edges log edges).
void mergeAcrossSeams(nav::NavMesh& mesh, const SeamEdges& edges);

}  // namespace dune::generate
