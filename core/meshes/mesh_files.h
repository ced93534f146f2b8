#pragma once
// Mesh files: our binary .dsmesh, JSON, and .obj and .glb to look at elsewhere.

#include "core/meshfile/mesh_file.h"

namespace dune::meshes {

using meshfile::Content;

/// Reads a .dsmesh or .json mesh; the kind is told by content. Everything is checked before it is believed.
Result<Content> readMesh(const std::string& path);
/// Writes by the ending of the path: .dsmesh, .json, .obj or .glb.
Outcome writeMesh(const std::string& path, const Content& content);

/// Faces that do not say their island are counted into islands.
Result<Content> meshFromJson(const std::string& text);
std::string meshToJson(const Content& content);
std::string meshToObj(const nav::NavMesh& mesh);
std::string meshToGlb(const nav::NavMesh& mesh);

}  // namespace dune::meshes
