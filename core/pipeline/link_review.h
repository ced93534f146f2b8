#pragma once
// What is wrong with links that are drawn by hand, as far as it needs the level or the project.

#include "core/generate/build.h"
#include "core/project/project.h"
#include "core/review/findings.h"

namespace dune::pipeline {

/// Flights of the mesh's agent into something, and links that no kind of agent may take. O(links · triangles near a flight).
void reviewLinks(const project::Project& project, const generate::Built& built, const nav::NavMesh& mesh,
                 std::vector<review::Finding>& findings);

}  // namespace dune::pipeline
