#pragma once
// How long a way is over the ground: a face that is not flat is triangles (facets.h), and a way bends up and down between them.

#include <vector>

#include "core/route/field.h"
#include "core/route/way_point.h"

namespace dune::route {

struct WayLength {
  double metres = 0;  ///< of ground of the kind that the way begins on, links included
  double climb = 0;   ///< by how much less that is over ground as seen from above
};
/// O(points · corners of a face).
WayLength lengthOf(const Field& field, const std::vector<WayPoint>& way);

/// Adds the places at which a way bends up or down within a face, so that it lies on the ground between any two points that follow each
/// other. O(points · corners of a face).
void layOnGround(const Field& field, std::vector<WayPoint>& way);

}  // namespace dune::route
