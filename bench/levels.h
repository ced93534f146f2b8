#pragma once
// The levels that are measured.

#include "core/level/world.h"
#include "core/nav/agent.h"

namespace dune::bench {

/// The agent of Saltwind Depot.
nav::Agent agent();
/// Saltwind Depot n times side by side.
level::World depotCopies(int n);
/// The same world with one object moved.
level::World withMoved(const level::World& world, const std::string& object, const Vec3& by);
/// Hills of side × side squares of two triangles each.
std::shared_ptr<const level::Level> terrain(int side, double spacing);

}  // namespace dune::bench
