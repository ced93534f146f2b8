#pragma once
// Fans of very thin triangles given an apex nearer to their base.
//
// Where an obstacle has a round corner, each of its short border edges sees the same far corner, and the triangles between are thinner
// than a body and bad to search. A new corner S near the base takes the fan's place: the triangles end in S, and one edge goes on from
// S to the far corner A. By Euler's formula that is as many faces as before: one corner more, one edge more.

#include "core/generate/faces.h"

namespace dune::generate {

/// Adds a point for each fan of triangles with an angle below `leastAngle` (radians) that can be given one: both faces beside it are of
/// its area and stay convex and flat. Same faces in number and order. O(n log n) where there is such a fan, else O(n).
void shortenFans(Faces& faces, double leastAngle);

}  // namespace dune::generate
