#pragma once
// What anybody finds of a project's level, walking or flying.

#include "core/hand/lay.h"
#include "core/level/world.h"
#include "core/project/project.h"

namespace dune::pipeline {

/// The level with the blockers that are there for a kind of agent, by its name, what each object counts as, and the bounds.
level::World worldOf(const project::Project& project, std::shared_ptr<const level::Level> level, const std::string& agent);

/// The blockers that are there for a kind of agent, by its name, and take away ground that no build of theirs knows.
hand::Standing standingFor(const project::Project& project, const std::string& agent);

}  // namespace dune::pipeline
