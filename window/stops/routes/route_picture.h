#pragma once
// A path in the world, with its ends and its narrowest place.

#include "window/scene/layers.h"

namespace dune::window {

DrawList routeLayer(const route::PathAnswer& answer, std::vector<WorldLabel>& labels);

}  // namespace dune::window
