#pragma once
// Drops and jumps that a build finds along the border of a mesh.
//
// 1. From places of the border a spacing apart, straight out (and at corners that stick out, between), one looks for ground right below and
//    beyond gaps, within the limits of the mesh's agent. Gaps are measured between the edges of the real ground.
// 2. Its flight is swept by the agent's body against the real triangles; both ends are on the mesh, so there is room to stand.
// 3. Ways beside each other between the same two straight stretches are one link, as wide as they reach. What one walks nearly as fast is
//    left out, and so is what another link does.
// 4. What was found out about places of the border is kept by chunk, and taken over where nothing around has changed.

#include <functional>
#include <map>

#include "core/base/job.h"
#include "core/ground/survey.h"
#include "core/nav/navmesh.h"
#include "core/system/digest.h"

namespace dune::links {

constexpr int kFirstFound = 100001;  ///< the id of the first link that is found; hand-made ones count from 1

/// What is known of the places of the border in a chunk.
struct ChunkWays {
  struct Way {
    nav::LinkKind kind;
    Vec3 to;
    bool back;
  };
  struct Known {
    Vec3 at;
    Vec2 out;
    std::vector<Way> ways;
  };
  Key key{};                 ///< of all that lies around
  std::vector<Known> known;  ///< in the order of their places
};
using WaysByChunk = std::map<ground::ChunkId, std::shared_ptr<const ChunkWays>>;

struct FoundLinks {
  std::vector<nav::Link> links;
  WaysByChunk ways;
};

/// How far from a chunk its ways depend on what is there, metres.
double reachOf(const nav::Agent& agent);

/// None of an agent that neither drops nor jumps. World and survey are those that the mesh was made from; `keyOf` tells apart what lies
/// within reachOf() of a chunk, ground and triangles. The same bytes for any number of threads, and with `before` or without. Fails only
/// when cancelled. O(places · triangles near a flight).
Result<FoundLinks> find(const nav::NavMesh& mesh, const level::World& world, const ground::Survey& survey,
                        const std::function<Key(ground::ChunkId)>& keyOf, const WaysByChunk& before, Job& job);

}  // namespace dune::links
