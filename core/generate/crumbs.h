#pragma once
// Islands that nobody means: what rounding to the lattice leaves between two limits, and what is left in cracks.

#include "core/nav/navmesh.h"

namespace dune::generate {

/// The mesh without islands smaller than a square centimetre, and without thread-thin ones smaller than a hundred. O(corners).
nav::NavMesh withoutCrumbs(nav::NavMesh mesh);

}  // namespace dune::generate
