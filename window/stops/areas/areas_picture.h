#pragma once
// Area volumes in the world: outlines in the colour of their kind.

#include "window/scene/layers.h"

namespace dune::window {

DrawList areasLayer(const project::AreasSection& areas, int chosen, std::vector<WorldLabel>& labels);

}  // namespace dune::window
