#pragma once
// From one side of the ground to another: over a gap a strip of ground, up a wall a link to climb.

#include "core/hand/edit.h"
#include "core/project/project.h"

namespace dune::pipeline {

/// The project with ground between two sides of the mesh that the editor is for; where that would be steeper than the agent walks and rise
/// by more than its step, with a climb link as wide as the narrower of both. Or why neither can be.
Result<project::Project> withStrip(project::Project project, const nav::NavMesh& mesh, const hand::Editor& editor, int agent,
                                   const hand::Edge& from, const hand::Edge& to);

}  // namespace dune::pipeline
