#pragma once
// Volumes over picked faces: what a person says of faces is kept by place, like all that is drawn.

#include "core/hand/edit.h"
#include "core/level/world.h"

namespace dune::hand {

/// Volumes that hold the picked faces and no other ground, without a kind of their own, with a tag; ids are zero. Faces that hang together
/// are one volume, where there is no hole between them and they do not climb so far that it would hold another storey. O(faces).
std::vector<level::AreaVolume> volumesOver(const nav::NavMesh& mesh, std::span<const nav::FaceId> faces, const std::string& tag);

}  // namespace dune::hand
