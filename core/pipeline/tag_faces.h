#pragma once
// Words for picked faces, kept by place in the document.

#include <span>

#include "core/nav/navmesh.h"
#include "core/project/project.h"

namespace dune::pipeline {

/// The project with volumes that give some faces of a mesh a tag, see hand::volumesOver(); or why not.
Result<project::Project> withTag(project::Project project, const nav::NavMesh& mesh, std::span<const nav::FaceId> faces,
                                 const std::string& tag);

}  // namespace dune::pipeline
