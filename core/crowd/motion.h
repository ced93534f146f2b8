#pragma once
// What a body's limits allow: how fast it speeds up and turns.

#include "core/crowd/body.h"

namespace dune::crowd {

/// The velocity nearest to a wanted one within acceleration and turning rate. Slowly one can step to any side; who must turn far slows down
/// first.
Vec2 withinLimits(const Body& body, const Vec2& want, double dt);
/// Turns it towards what it aims at.
void turnTowardsAim(Body& body, double dt);

}  // namespace dune::crowd
