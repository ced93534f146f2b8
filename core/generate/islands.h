#pragma once
// Which islands of a mesh stay.

#include "core/level/world.h"
#include "core/nav/navmesh.h"

namespace dune::generate {

struct IslandExtent {
  double area = 0;    ///< m²
  double border = 0;  ///< metres
  /// As of a strip, whose border is its length twice.
  double width() const { return border > 0 ? 2 * area / border : 0; }
};
/// One an island. O(corners).
std::vector<IslandExtent> islandExtents(const nav::NavMesh& mesh);

/// The mesh without islands that cannot be reached, over links or not, from a place near a seed of the world, where there are seeds, and
/// without those under a least size that no place is near to that is used. `reach`: how near, metres. O(faces + places).
nav::NavMesh keepIslands(nav::NavMesh mesh, const level::World& world, const level::LeastIsland& least, double reach);

}  // namespace dune::generate
