#pragma once
// What the crowd command lets walk: a mesh with a table of agents, or a project with its scene or a table.

#include "core/meshes/mesh_files.h"
#include "core/pipeline/crowd_scene.h"

namespace dune::batch {

struct CrowdFlags {
  std::string input, agents, out, scene, agent, steering;
  std::vector<std::string> set, compare;
  std::optional<double> seconds;
  double rate = 30;
  int threads = 0;
  std::uint64_t maxMemory = Job::kDefaultMemory;  // bytes, for reading and building
  bool json = false;
  bool fly = false;     ///< the groups that fly
  std::string among{};  ///< recorded movement that those make way for
};

/// Everything that a run needs; it owns what the fields are over.
struct CrowdInput {
  std::unique_ptr<meshfile::Content> mesh;
  std::vector<std::unique_ptr<const route::Field>> own;  ///< over `mesh`: by its rules, and by each of its named ones
  std::unique_ptr<project::Project> project;
  std::vector<std::shared_ptr<const pipeline::Ground>> grounds;
  std::vector<const route::Field*> fields;
  std::vector<crowd::Walker> walkers;
  crowd::SceneOptions options;
  std::vector<review::Finding> findings;
  double seconds = 0;
};

/// Reads and builds what the flags name. `job` makes the grounds.
Result<CrowdInput> crowdInput(const CrowdFlags& flags, Job& job);
/// The grounds of those kinds of agent that a scene asks for, `agent` among them; of every kind where `all`.
Result<pipeline::KindGrounds> groundsFor(const project::Project& project, const std::shared_ptr<const level::Level>& level,
                                         std::size_t agent, const std::string& scene, bool all, Job& job);
/// How all steer, as --steering and --set say it; nothing when they say nothing.
Result<std::optional<crowd::SteeringSettings>> steeringOf(const CrowdFlags& flags);

}  // namespace dune::batch
