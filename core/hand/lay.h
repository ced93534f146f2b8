#pragma once
// Hand work laid over a generated mesh.
//
// Around each patch, the faces that it touches, the ground that it stands in place of and its own faces are put into one exact
// triangulation of the plan (see generate/triangulation.h), by which every piece knows whose it is; pieces of one face are merged again.
// So neighbours share whole edges, corners are on the lattice, and each face of a patch stays one face. All other faces stay as they were.

#include "core/hand/solid.h"
#include "core/hand/work.h"
#include "core/nav/navmesh.h"

namespace dune::hand {

/// Where a face of a mesh comes from.
struct Origin {
  int patch = 0;           ///< id of the patch; 0: a build made it
  std::uint32_t face = 0;  ///< which of the patch's faces it is, or is a piece of
  bool operator==(const Origin&) const = default;
};

/// A patch that could not be laid whole: a face of it touches two grounds that lie over each other, nearer than a storey.
struct NotLaid {
  int patch;
  Vec3 at;
};

/// Metres in height from which on ground is another storey, and a patch leaves it alone.
inline double storeyHeight(const nav::Agent& agent) { return std::max(0.5, agent.stepHeight); }

struct Laid {
  nav::NavMesh mesh;
  std::vector<Origin> origin;  ///< one a face
  std::vector<NotLaid> notLaid;
  std::vector<nav::Link> crossings;  ///< over borders that are crossed one way, an edge each; without ids yet
};

/// What stands on the ground, and takes that of patches away; that which a build made knows it already.
struct Standing {
  std::vector<Solid> solids{};
  bool onAll = false;  ///< no build made the mesh: it takes that of the mesh away, too
};

/// A mesh with the patches and parts that are for a kind of agent laid over it, one after the other; later ones win, and what stands there
/// wins over all. Links of the mesh stay where there is still ground under both ends. O(faces) and O(n log n) in the faces that the patches
/// and what stands there touch.
Laid lay(const nav::NavMesh& mesh, const Work& work, int agent, const Standing& standing = {});

}  // namespace dune::hand
