#pragma once
// What is wrong with free space and with recorded flights through it.

#include "core/flight/space.h"
#include "core/review/movement.h"

namespace dune::review {

/// Parts of the space that nothing leads to or from. O(parts).
std::vector<Finding> reviewSpace(const flight::Space& space);

/// As reviewMovement, for bodies that fly: through walls, walls scraped, out of the volume, overlaps, stuck, jumps, too fast, climbs and
/// turns that they cannot make, long ways round, never arrived. `spaceOf`: one a body of the trace; the first where it says nothing.
/// O(samples × neighbours + bodies × search).
Result<std::vector<Finding>> reviewFlight(std::span<const flight::Space* const> spaces, std::span<const std::size_t> spaceOf,
                                          const trace::Trace& trace, const MovementLimits& limits, Job& job);

}  // namespace dune::review
