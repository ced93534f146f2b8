#pragma once
// A way made as cheap as it gets where air costs more here than there.
//
// Corners are moved and left out, and it may bend where air changes, until it costs no less that way (pattern search; Hooke & Jeeves,
// "Direct search", 1961): at sides of zones it then bends as light does, around them along their edges.

#include <vector>

#include "core/flight/space.h"

namespace dune::flight {

/// `way`: places of the stretched space, each of whose stretches is clear; so are those of the result, which has the same ends and costs no
/// more.
void settleCosts(const Space& space, std::vector<Vec3>& way);
/// What a way costs; its length where all air costs one.
double costOf(const Space& space, const std::vector<Vec3>& way);

}  // namespace dune::flight
