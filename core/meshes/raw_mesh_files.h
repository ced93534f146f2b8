#pragma once
// Meshes from elsewhere as they are, to be judged and mended.

#include <string_view>

#include "core/level/import.h"
#include "core/level/raw_mesh.h"

namespace dune::meshes {

/// The faces of an OBJ with all their corners, of all its groups; materials are names of kinds. Fails on text without faces, on numbers
/// that are none and on faces that name corners that are not there, naming the line. O(text).
Result<level::RawMesh> rawFromObj(std::string_view text);

/// Whether a file of this name can hold a mesh from elsewhere, or one of ours.
bool isMeshFile(const std::string& path);
/// Whether it is one of ours, which says for whom it is and is in metres.
bool isOurMesh(const std::string& path);

/// The faces in a file: polygons of an .obj; triangles of .glb, .gltf, .ply and .stl; faces with their kinds of .dsmesh and our .json. Unit
/// and axis as for levels; ours are in metres. Refuses what holds no face, and places beyond 60 km from the origin.
Result<level::RawMesh> readRawMesh(const std::string& path, const level::ImportOptions& options, Job& job);

}  // namespace dune::meshes
