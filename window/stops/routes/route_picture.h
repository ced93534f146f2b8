#pragma once
// A path in the world, with its ends and its narrowest place.

#include "window/scene/layers.h"

namespace dune::window {

/// Another way, beside the one that is drawn.
void addDashed(DrawList& list, const std::vector<Vec3>& way, const QColor& colour);

DrawList routeLayer(const route::PathAnswer& answer, std::vector<WorldLabel>& labels);

}  // namespace dune::window
