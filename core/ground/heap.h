#pragma once
// Heaps of triangles on one spot, which nobody means and which measuring would take for ever.

#include "core/ground/soup.h"

namespace dune::ground {

/// A place over and under which more triangles lie than can be measured in a sensible time, each with the others' limits; looked for at
/// some of the triangles where many are near each other. Says where, of which object, and what to do. O(triangles), more only where they
/// are many.
std::optional<Problem> findHeap(const Soup& soup, const level::World& world);

}  // namespace dune::ground
