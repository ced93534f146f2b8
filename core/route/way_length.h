#pragma once
// How long a way is over the ground: a face that is not flat is triangles (facets.h), and a way bends up and down between them.

#include <vector>

#include "core/route/field.h"
#include "core/route/way_point.h"

namespace dune::route {

/// In metres of ground of the kind that the way begins on, links included. O(points · corners of a face).
double lengthOf(const Field& field, const std::vector<WayPoint>& way);

/// By how much it is longer than it looks from above, in metres of ground. Likewise.
double climbOf(const Field& field, const std::vector<WayPoint>& way);

/// Adds the places at which a way bends up or down within a face, so that it lies on the ground between any two points that follow each
/// other. O(points · corners of a face).
void layOnGround(const Field& field, std::vector<WayPoint>& way);

}  // namespace dune::route
