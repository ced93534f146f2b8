#pragma once
// Whether one walks from one place to another within a short distance.

#include "core/nav/navmesh.h"

namespace dune::links {

/// By faces that touch, within `most` metres. The length is that of a way over the edges between, a little longer than the shortest; so
/// it may say no where the shortest way just fits. O(n log n) in the faces within reach.
bool walksWithin(const nav::NavMesh& mesh, const nav::Place& from, const nav::Place& to, double most);

}  // namespace dune::links
