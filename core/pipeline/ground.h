#pragma once
// From a document to results: the world, the ground of an agent, a crowd's run with its findings. Results are immutable and
// shared; each remembers the sections it was made from, so that what is stale is told by comparing pointers.

#include "core/crowd/run.h"
#include "core/mesh/build.h"
#include "core/project/project.h"
#include "core/review/findings.h"

namespace dune::pipeline {

/// A level as it was read, and the section that said how.
struct LoadedLevel {
  std::shared_ptr<const level::Level> level;
  std::string path;
  level::ImportOptions import;
};

/// The mesh of one agent, with its links, ready for queries.
struct Ground {
  project::Project from;  ///< the document it was made from
  std::shared_ptr<const mesh::Built> built;
  mesh::NavMesh mesh;  ///< built->mesh with the links of the document
  std::vector<links::Broken> broken;
  std::unique_ptr<const route::Field> field;  ///< over `mesh`

  const mesh::Locator& locator() const { return field->locator(); }
};

struct KeptAnswer {
  int id;
  route::PathAnswer answer;
};

/// A crowd's run and what is wrong with it.
struct Run {
  project::Project from;
  std::shared_ptr<const Ground> ground;
  crowd::Trace trace;
  std::vector<double> wallDistance;  ///< one a sample of the trace, metres
  std::vector<review::Finding> findings;
};

/// Whether a result made from one document holds for another.
bool sameGround(const project::Project& a, const project::Project& b);
bool sameLinks(const project::Project& a, const project::Project& b);
bool sameCrowd(const project::Project& a, const project::Project& b);

level::World makeWorld(const project::Project& project, std::shared_ptr<const level::Level> level);

/// Reads the project's level.
Result<std::shared_ptr<const LoadedLevel>> loadLevel(const project::Project& project, const std::string& projectFile, Job& job);

/// The ground of one of the project's agents. When only links differ from `before`, its mesh is taken over.
Result<std::shared_ptr<const Ground>> makeGround(const project::Project& project, std::shared_ptr<const level::Level> level,
                                                 std::size_t agent, std::shared_ptr<const Ground> before, Job& job);

/// The walkers of the project's groups: spread over the ground around each group's start, in a fixed order.
std::vector<crowd::Walker> makeWalkers(const project::Project& project, const Ground& ground, std::size_t agent);

Result<std::shared_ptr<const Run>> runCrowd(const project::Project& project, std::shared_ptr<const Ground> ground, std::size_t agent,
                                            Job& job);

/// Findings about the mesh of a ground.
std::vector<review::Finding> groundFindings(const Ground& ground);

}  // namespace dune::pipeline
