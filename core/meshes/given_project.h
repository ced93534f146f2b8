#pragma once
// A project around a mesh from elsewhere.

#include "core/base/job.h"
#include "core/level/import.h"
#include "core/project/project.h"

namespace dune::meshes {

/// A mesh as one reads it, with what the file says of it: of ours its kind of agent, kinds of ground with their rules, and links, all of
/// which are as drawn by hand; of others nothing. Kinds of agents are those of `project` where that has a level or ground already.
Result<project::Project> withGivenMesh(project::Project project, const std::string& path, const std::string& storedPath,
                                       const level::ImportOptions& import, Job& job);

}  // namespace dune::meshes
