#pragma once
// Mesh files: our binary .dsmesh, JSON, and .obj and .glb to look at elsewhere.

#include "core/mesh/navmesh.h"

namespace dune::exchange {

constexpr int kMeshVersion = 1;

/// Reads a .dsmesh or .json mesh; the kind is told by content. Everything is checked before it is believed.
Result<mesh::NavMesh> readMesh(const std::string& path);
/// Writes by the ending of the path: .dsmesh, .json, .obj or .glb.
Outcome writeMesh(const std::string& path, const mesh::NavMesh& mesh);

Result<mesh::NavMesh> meshFromJson(const std::string& text);
std::string meshToJson(const mesh::NavMesh& mesh);
Result<mesh::NavMesh> meshFromBinary(const std::string& bytes);
std::string meshToBinary(const mesh::NavMesh& mesh);
std::string meshToObj(const mesh::NavMesh& mesh);
std::string meshToGlb(const mesh::NavMesh& mesh);

}  // namespace dune::exchange
