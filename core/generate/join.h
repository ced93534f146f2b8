#pragma once
// The meshes of all chunks joined to one.
//
// On the line between two chunks, edges of both that lie at the same height are cut at each other's corners, so that faces share
// whole edges across it. Corners that become one take the height of the first chunk.

#include "core/generate/chunk_mesh.h"
#include "core/nav/navmesh.h"

namespace dune::generate {

struct ChunkPart {
  ground::ChunkId id;
  const ChunkMesh* mesh;
};

/// `parts` ascending by chunk; `meets` is how far apart in height two edges may be and still be one, metres. O(n log n).
nav::NavMesh joinChunks(const level::World& world, const nav::Agent& agent, const std::vector<ChunkPart>& parts, double meets);

/// Begins each face at a corner at which every one of its triangles has area: the height of a face is that of these triangles, and where
/// several corners lie on one line and not at the heights of that line, a first corner on it would leave them out.
void turnFans(nav::NavMesh& mesh);

/// A mesh of some of the faces, in their order, and of the links between them.
nav::NavMesh keepFaces(const nav::NavMesh& mesh, const std::vector<char>& keep);

}  // namespace dune::generate
