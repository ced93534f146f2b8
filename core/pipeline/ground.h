#pragma once
// From a document to results: the world, the ground of an agent. Results are immutable and
// shared; each remembers the sections it was made from, so that what is stale is told by comparing pointers.

#include "core/generate/build.h"
#include "core/hand/lay.h"
#include "core/level/units.h"
#include "core/project/project.h"
#include "core/review/findings.h"

namespace dune::pipeline {

/// One file of a level as it was read.
struct LoadedFile {
  std::string path;
  level::ImportOptions import;
  std::string stamp;  ///< size and time of last change when it was read
  std::shared_ptr<const level::Level> level;
  std::optional<level::UnitsGuess> units;  ///< where it does not look like metres with Y up
};

/// A mesh from elsewhere as it was read.
struct LoadedMesh {
  std::string path;
  level::ImportOptions import;
  std::string stamp;
  std::shared_ptr<const level::RawMesh> mesh;
};

/// All files of a level, and their objects together; no files where everything was drawn by hand. With several files, objects of all but
/// the first are named "file/object".
struct LoadedLevel {
  std::vector<LoadedFile> files;
  std::vector<LoadedMesh> given{};
  std::shared_ptr<const level::Level> level;

  /// Whether everything lies in one plane: tile maps, or what was drawn by hand alone.
  bool flat() const;
};

/// How a file should perhaps be read; null where it looks right, or where it is read in another way by now.
const level::UnitsGuess* guessOf(const LoadedLevel& level, const project::LevelSection& section, std::size_t file);

/// Whether a project has anything to make ground from: files, meshes from elsewhere, or floors and blockers drawn by hand.
bool hasLevel(const project::Project& project);

/// The mesh of one agent, with its links, ready for queries.
struct Ground {
  project::Project from;                       ///< the document it was made from
  std::shared_ptr<const level::Level> source;  ///< as it was read, without blockers
  std::shared_ptr<const generate::Built> built;
  nav::NavMesh mesh;  ///< built->mesh, built or from elsewhere, with the hand work and the links of the document
  nav::Rules rules;   ///< what its kinds of ground cost this agent
  std::vector<links::Broken> broken;
  std::vector<links::Beyond> beyond;               ///< links that this kind of agent cannot take
  std::vector<int> notFor;                         ///< ids of links that are for other kinds of agent
  std::unique_ptr<const route::Field> field;       ///< over `mesh`
  std::vector<review::Finding> findings;           ///< about the mesh and its links
  double area = 0;                                 ///< of the mesh on which the agent may walk, m²
  double forbidden = 0;                            ///< of the rest, m²
  std::size_t islands = 0;                         ///< of the mesh
  std::vector<hand::Origin> origin{};              ///< one a face of the mesh: whether a build or a person made it
  std::vector<hand::NotLaid> notLaid{};            ///< patches
  hand::Standing standing{};                       ///< what takes ground of them away
  std::shared_ptr<const hand::TakeNotes> given{};  ///< of a mesh from elsewhere; null where it was built

  const nav::Locator& locator() const { return field->locator(); }
};

/// The links of a project on a mesh: those that the mesh was built with, but for refused ones, and those that are drawn.
links::Attached linksOn(const nav::NavMesh& mesh, const nav::Locator& locator, const project::Project& project);

// Whether a result made from one document holds for another.

/// Of the same level as it was read; that is told by its pointer.
bool sameWorld(const project::Project& a, const project::Project& b, const level::Level& read);
bool sameLinks(const project::Project& a, const project::Project& b);
/// As far as it is about a kind of agent, by id.
bool sameHand(const project::Project& a, const project::Project& b, int agent);

/// Whether a ground has the limits that a project's agent has now, in the world that the project has now, as far as the scope goes.
bool holds(const Ground& ground, const project::Project& project, std::size_t agent, const generate::Scope& scope = {});

/// What an agent finds: the level with the blockers that are there for it, roles, bounds, seeds and areas.
level::World makeWorld(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent);

/// Reads the project's level; files that did not change since `before` are taken over from it.
Result<std::shared_ptr<const LoadedLevel>> loadLevel(const project::Project& project, const std::string& projectFile, Job& job,
                                                     const LoadedLevel* before = nullptr);

/// The ground of one of the project's agents. Where `before` holds it is the answer, and when only links or hand work differ, its mesh
/// is taken over.
Result<std::shared_ptr<const Ground>> makeGround(const project::Project& project, std::shared_ptr<const level::Level> level,
                                                 std::size_t agent, std::shared_ptr<const Ground> before, Job& job,
                                                 const generate::Scope& scope = {});

}  // namespace dune::pipeline
