#pragma once
// Which places of a yard the bodies in it stand on, and which they want to.

#include "core/crowd/floor.h"
#include "core/crowd/shunting.h"

namespace dune::crowd {

/// Whether a straight line over the ground leads from a place to one of a yard.
bool leadsTo(const Floor& floor, const Yard& yard, const nav::Place& from, std::uint32_t to);

/// Where those in a yard are and want to be: at their goals, where these lie in it, each at another place; else where their ways leave it.
/// Nobody crosses another's way to its first place, for squares of distances are least in all. O(bodies² × places).
std::vector<Shunted> shuntedIn(const Floor& floor, const Yard& yard, const std::vector<const Body*>& bodies);

}  // namespace dune::crowd
