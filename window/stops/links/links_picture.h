#pragma once
// Off-mesh links in the world: flights with their direction; broken ones in the colour of trouble.

#include "window/scene/layers.h"

namespace dune::window {

DrawList linksLayer(const pipeline::Ground* ground, const project::LinksSection& links, int chosen, std::vector<WorldLabel>& labels);

}  // namespace dune::window
