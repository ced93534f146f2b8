#pragma once
// Ways for what cannot hover: it comes to narrow places straight.

#include "core/flight/gates.h"
#include "core/flight/path.h"

namespace dune::flight {

/// A way that leads straight to each narrow place, from as far as such a body needs to turn and come back to a line, and on a little behind
/// it; as far as there is room. The way as it was where none leads there. Time: two searches a gate.
std::vector<Vec3> withRunUps(const Space& space, Searcher& searcher, std::span<const Gate> gates, const std::vector<Vec3>& way);

}  // namespace dune::flight
