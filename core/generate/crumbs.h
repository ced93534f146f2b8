#pragma once
// Ground that nobody means: what rounding to the lattice leaves between two limits, what is left in cracks, tips of strips.

#include "core/nav/navmesh.h"

namespace dune::generate {

/// The mesh without islands smaller than a square centimetre, without thread-thin ones smaller than a hundred, and without faces smaller
/// than one that nothing leads through. O(corners).
nav::NavMesh withoutCrumbs(nav::NavMesh mesh);

}  // namespace dune::generate
