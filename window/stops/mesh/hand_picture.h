#pragma once
// What was made by hand, told apart from what a build made: hatched, with a strong outline; parted edges as a double line.

#include "window/scene/layers.h"

namespace dune::window {

/// `agent`: the id of the kind that the ground is for; `chosen`: the id of a patch.
DrawList handLayer(const pipeline::Ground& ground, int agent, int chosen, std::vector<WorldLabel>& labels);

}  // namespace dune::window
