#pragma once
// A path in the world, with its ends and its narrowest place.

#include "core/route/distances.h"
#include "window/scene/layers.h"

namespace dune::window {

/// Another way, beside the one that is drawn.
void addDashed(DrawList& list, const std::vector<Vec3>& way, const QColor& colour);

/// Rings around a place, each with how far it is.
DrawList distancesLayer(const std::optional<Vec3>& place, const std::vector<route::Ring>& rings, std::vector<WorldLabel>& labels);
/// On the ground, along a direction in plan.
void addArrow(DrawList& list, const Vec3& at, const Vec2& direction);

DrawList routeLayer(const route::PathAnswer& answer, std::vector<WorldLabel>& labels);

}  // namespace dune::window
