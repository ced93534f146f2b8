#pragma once
// A project around a mesh from elsewhere.

#include "core/level/import.h"
#include "core/project/project.h"

namespace dune::meshes {

/// The project with a mesh as it will be read, see pipeline::loadLevel(), and what the file says of it: of ours its kind of agent, kinds of
/// ground with their rules, and links, all of which are as drawn by hand; of others nothing, and they are not opened. Kinds of agents are
/// those of `project` where that has a level or ground already.
Result<project::Project> withGivenMesh(project::Project project, const std::string& path, const std::string& storedPath,
                                       const level::ImportOptions& import);

}  // namespace dune::meshes
