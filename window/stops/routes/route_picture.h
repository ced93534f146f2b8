#pragma once
// A path in the world, with its ends and its narrowest place.

#include "core/route/distances.h"
#include "window/scene/layers.h"

namespace dune::window {

/// Another way, beside the one that is drawn.
void addDashed(DrawList& list, const std::vector<Vec3>& way, const QColor& colour);

/// That of another kind of agent, in its colour and with its name where it ends before the goal.
void addWayOf(DrawList& list, const route::PathAnswer& answer, const QColor& colour, const QString& name, std::vector<WorldLabel>& labels);

/// Rings around a place, each with how far it is.
DrawList distancesLayer(const std::optional<Vec3>& place, const std::vector<route::Ring>& rings, std::vector<WorldLabel>& labels);
/// On the ground, along a direction in plan.
void addArrow(DrawList& list, const Vec3& at, const Vec2& direction);

/// That a route must go through, or must not.
void addBox(DrawList& list, const project::Touch& touch, std::vector<WorldLabel>& labels);

DrawList routeLayer(const route::PathAnswer& answer, std::vector<WorldLabel>& labels);

}  // namespace dune::window
