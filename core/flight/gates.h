#pragma once
// Narrow places of a way, where two bodies cannot pass each other.

#include "core/flight/make_way.h"

namespace dune::flight {

/// The middle of one, and the direction in which the way goes through it.
struct Gate {
  Vec3 at, direction;  ///< metres
};

/// Whether walls stand on both sides of a place, so that there is no room to make way; `walls` from boundsOfWalls with as many seconds.
bool isTight(std::span<const Bound> walls, double seconds, double radius);

/// The narrow places along a way, in order; the way is led through their middles, where that is clear: a taut one touches. Its ends stay.
std::vector<Gate> findGates(const Space& space, std::vector<Vec3>& way);

}  // namespace dune::flight
