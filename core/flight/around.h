#pragma once
// On which side of what is in the way one passes: ways over places beside it, made taut.
//
// Which side is best is what is hard about ways in space (Canny & Reif 1987), and the search over cells, which bends at their middles,
// takes the wrong one now and then. Both below go from the straight line between two places out to all sides of what is in its way.

#include <span>
#include <vector>

#include "core/flight/space.h"

namespace dune::flight {

/// Whether a way is more than hardly longer than the straight one between its ends, below which none can be.
bool isRoundabout(const Space& space, std::span<const Vec3> way);

/// The taut way around one thing that is in the way, where that is hardly longer than the straight one, below which no way can be. Mostly
/// it is, and a search would look at all cells through which a way might be as short. Empty where there is none. Stretched places.
std::vector<Vec3> aroundOne(const Space& space, const Vec3& from, const Vec3& goal);

/// Puts a shorter way in place of a taut one if there is one on another side of what is in the way between its ends, or between turns of
/// it. Asked of no way that is hardly longer than straight.
void tryOtherSides(const Space& space, std::vector<Vec3>& way);

}  // namespace dune::flight
