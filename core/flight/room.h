#pragma once
// Whether a small box has room for a body at any of its places.

#include <optional>

#include "core/flight/cells.h"

namespace dune::flight {

/// A place of a box at which nothing is nearer than the radius; nothing where none was found. The box is halved on every side until a part
/// of it is near enough to one triangle for all of it to be forbidden, or its middle fits; what is left open at the smallest parts is tried
/// by pushing from the middle, and from the part that is farthest from everything. `near`: the numbers of all that comes nearer to the
/// box's middle than the radius and half the box's diagonal, in the order in which they are looked at. O(near) a part.
std::optional<Vec3> placeIn(const Box3& box, const Measure& measure, std::span<const std::uint32_t> near);

}  // namespace dune::flight
