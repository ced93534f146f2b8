#pragma once
// Where wide links join edges of the border, so that a search can go over them as over an edge.

#include "core/route/simple_ground.h"

namespace dune::route {

/// Adds the gates of all wide links to simple ground whose lanes are placed: `whole` is the mesh that their numbers are of. O(corners)
/// where there are any.
void placeGates(const nav::NavMesh& whole, SimpleGround& ground);

}  // namespace dune::route
