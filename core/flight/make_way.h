#pragma once
// What a body must not do in a step, as half-spaces of velocities: because of walls, of others that fly, and of things that move.

#include <vector>

#include "core/flight/half_spaces.h"
#include "core/flight/space.h"

namespace dune::flight {

/// Walls near a place, metres a second: whoever heeds them for `seconds` touches none in that time.
void boundsOfWalls(const Space& space, const Vec3& at, double reach, double seconds, std::vector<Bound>& bounds,
                   Obstacles::Which which = Obstacles::Which::all);

/// Another body as one that makes way sees it; both are ellipsoids of these axes together.
struct Other {
  Vec3 from{};                        ///< to its middle, metres
  Vec3 velocity{};                    ///< its own
  double radius = 0, halfHeight = 0;  ///< of both together, spacing included
  double share = 0.5;                 ///< of the way that is made by whoever asks
  Vec3 goes{};                        ///< what it wants to do: what is heeded of it
  bool blind = false;                 ///< it knows nothing of whoever asks
};

/// The half-space of velocities that keep clear of the other one for `seconds`, if both do their share (van den Berg et al. 2011, in
/// space). One that comes straight is passed on the right.
Bound boundOf(const Other& other, const Vec3& velocity, double seconds, double step);
/// The half-space that takes at most the share of the room that is left in one step, so that nobody ever overlaps; hard.
Bound roomOf(const Other& other, double step);

}  // namespace dune::flight
