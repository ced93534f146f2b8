#pragma once
// From a world and an agent to a navigation mesh.
//
// Example:
//   Job job;
//   auto built = mesh::build(level::plainWorld(level), agent, job);
//   if (!built) say(built.problem().text());

#include "core/base/job.h"
#include "core/ground/clearance.h"
#include "core/mesh/navmesh.h"

namespace dune::mesh {

/// What a build leaves behind: the mesh, and what answers "why (not) here?". Immutable; keeps its own copy of the inputs.
struct Built {
  level::World world;
  level::Agent agent;
  ground::Soup soup;
  ground::Clearance clearance;
  NavMesh mesh;
  double seconds = 0;
};

/// The mesh for one kind of agent. Same input, same bytes, for any number of threads. Fails when an agent limit makes no
/// sense, or when cancelled; a world without ground gives an empty mesh.
Result<std::shared_ptr<const Built>> build(const level::World& world, const level::Agent& agent, Job& job);

}  // namespace dune::mesh
