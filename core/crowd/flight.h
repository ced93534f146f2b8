#pragma once
// Bodies on links: taking off at the foot, moving along the link's form, landing.

#include "core/crowd/body.h"
#include "core/crowd/picture.h"

namespace dune::crowd {

/// One after the other: whether nobody is still near the foot on the same flight.
bool footIsFree(const Picture& picture, const std::vector<Body>& bodies, std::size_t self);
/// Begins the link at whose foot the body stands; nothing when the mesh has none there.
void takeOff(const route::Field& field, Body& body);
/// One step along the link, of `dt` seconds; over a border that is crossed one way it goes on beyond with what is left of the step.
void fly(const nav::NavMesh& mesh, Body& body, double dt);

}  // namespace dune::crowd
