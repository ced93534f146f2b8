#pragma once
// From a world and an agent to a navigation mesh, chunk by chunk.
//
// 1. Same input, same bytes, for any number of threads.
// 2. A build that is given an earlier one makes anew only the chunks whose surroundings have changed, and gives the same bytes as
//    a build from nothing.
// 3. Intermediate data is kept for the chunks in work only.
//
// Example:
//   Job job;
//   auto built = generate::build(level::plainWorld(level), agent, job);
//   if (!built) say(built.problem().text());

#include "core/base/job.h"
#include "core/generate/chunk_mesh.h"
#include "core/ground/clearance.h"
#include "core/links/find.h"
#include "core/nav/navmesh.h"

namespace dune::generate {

/// Which chunks a build looks at. The others stay as an earlier build for the same agent left them, or without ground.
struct Scope {
  enum class Kind : std::uint8_t {
    everything,
    box,    ///< the chunks that a box of the plan touches
    empty,  ///< the chunks in which there is no ground yet
  };
  Kind kind = Kind::everything;
  Box2 box;
  bool operator==(const Scope& other) const {
    return kind == other.kind && (kind != Kind::box || (box.min == other.box.min && box.max == other.box.max));
  }
};

/// Whether a scope looks at a chunk that lies in a box of the plan and of which there is a mesh already, or null.
bool looksAt(const Scope& scope, const Box2& chunk, const ChunkMesh* before);

/// What a chunk came to, kept for the next build.
struct ChunkRecord {
  ground::ChunkId id;
  std::shared_ptr<const ChunkLimits> limits;
  std::shared_ptr<const ChunkMesh> mesh;
  bool current = true;  ///< false where the scope left it as it was and another build would make something else of it
};

/// What a build leaves behind: the mesh, and what answers "why (not) here?". Immutable; keeps its own copy of the inputs.
struct Built {
  level::World world;
  nav::Agent agent;  ///< as low as it gets; the mesh names the agent as it stands
  std::shared_ptr<const ground::Survey> survey;
  std::vector<ChunkRecord> chunks;  ///< as the survey has them
  ground::Clearance clearance;
  ground::Clearance uprightClearance;  ///< of an agent that crouches: from the limits where it does not
  nav::NavMesh mesh;
  links::WaysByChunk ways;  ///< where its links come from, for the next build
  double seconds = 0;
  std::size_t chunksMade = 0;  ///< how many were not taken over from the earlier build
  Scope scope;
  std::size_t chunksLeft = 0;  ///< how many are not current

  /// What the kinds of ground of its world cost.
  nav::Rules rules() const { return level::rulesOf(world.kinds); }
  /// Whether it has all that a scope asks for.
  bool covers(const Scope& asked) const { return chunksLeft == 0 || scope == asked; }
  /// What is known of the chunk at a place of the plan; null where the level has nothing near.
  const ChunkRecord* chunkAt(const Vec2& q) const;

  /// The triangles near a box of the plan, bridges over gaps included.
  ground::Soup soupNear(const Box2& box) const;
};

/// The mesh for one kind of agent. Fails when an agent limit makes no sense, when it would take more memory than the job allows, or
/// when cancelled; a world without ground gives an empty mesh. An agent that crouches gets one more kind of ground, the last, where it
/// must.
Result<std::shared_ptr<const Built>> build(const level::World& world, const nav::Agent& agent, Job& job,
                                           const std::shared_ptr<const Built>& before = nullptr, const Scope& scope = {});

}  // namespace dune::generate
