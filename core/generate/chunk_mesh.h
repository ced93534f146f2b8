#pragma once
// The ground of one chunk: its limits, and then its faces.
//
// Both are pure functions of what lies near the chunk, and each has a key of all that it was made from, so that a later build
// takes over whatever has the same key.

#include <memory>

#include "core/base/lattice.h"
#include "core/ground/limits.h"
#include "core/ground/survey.h"
#include "core/system/digest.h"

namespace dune::generate {

LatticeBox latticeBox(ground::ChunkId id, double size);

struct ChunkLimits {
  Key key{};
  std::vector<std::uint32_t> objects;  ///< that touch the chunk, ascending
  ground::Limits found;
  std::vector<ground::Limit> upright;  ///< of an agent that crouches: the limits where it does not
};

/// What the limits of a chunk are made from. `agent` is as low as it gets, `upright` the height at which it need not crouch.
Key limitsKey(const level::World& world, const nav::Agent& agent, double upright, const ground::Survey& survey, std::size_t chunk);
/// The numbers of the objects that touch a chunk, ascending.
std::vector<std::uint32_t> objectsAt(const ground::Survey& survey, std::size_t chunk);
/// The same limits when the objects have got other numbers.
ChunkLimits renumbered(const ChunkLimits& limits, const std::vector<std::uint32_t>& objects);

/// An edge of a face on a side of its chunk.
struct SideEdge {
  std::int64_t low, high;       ///< lattice coordinates along the side, low < high
  std::uint32_t corner;         ///< of ChunkMesh::corners, where the edge begins
  std::uint32_t atLow, atHigh;  ///< points
};

struct ChunkMesh {
  Key key{};
  std::vector<LatticePoint> points;
  std::vector<double> heights;                 ///< one a point
  std::vector<std::uint32_t> start{0};         ///< face f has the corners start[f] … start[f + 1]
  std::vector<std::uint32_t> corners;          ///< numbers of points
  std::vector<std::int32_t> across;            ///< one a corner: the face over the edge that begins there, or -1
  std::vector<std::uint16_t> area;             ///< one a face
  std::array<std::vector<SideEdge>, 4> sides;  ///< left, right, bottom, top; ascending
};

/// The limits of the chunks around one, in the order of the chunks, those of the chunk itself among them.
using Around = std::vector<const ChunkLimits*>;

/// Of which kinds the triangles around a chunk are by themselves.
Key groundKey(const level::World& world, const ground::Survey& survey, std::size_t chunk);
/// `crouches`: whether low ground gets the last kind. `kinds`: the chunk's groundKey().
Key meshKey(const level::World& world, const nav::Agent& agent, bool crouches, const Key& soup, const Key& kinds, const Around& around,
            const LatticeBox& chunk);

/// The faces of a chunk; where an agent of height `upright` cannot stand they are of the last kind of ground. The soup must hold all
/// triangles nearer to it than ground::haloFor(world), and gets the bridges.
Result<ChunkMesh> meshChunk(const level::World& world, const nav::Agent& agent, double upright, ground::Soup& soup, const Around& around,
                            const ChunkLimits& own, const LatticeBox& chunk, Job& job);

}  // namespace dune::generate
