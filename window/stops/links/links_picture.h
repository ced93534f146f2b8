#pragma once
// Off-mesh links in the world: flights with their direction, as wide as they are; broken ones in the colour of trouble.

#include "window/scene/layers.h"

namespace dune::window {

/// `here`: at the stop of links, where refused ones are shown too.
DrawList linksLayer(const pipeline::Ground* ground, const project::LinksSection& links, int chosen, bool here,
                    std::vector<WorldLabel>& labels);

}  // namespace dune::window
