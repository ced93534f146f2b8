#pragma once
// Fewer convex faces by local search: two inner edges beside one face give way to one.
//
// Merging triangles never adds an edge, so it can keep one edge for each of two reflex corners where one edge between the two would do
// for both. Half the reflex corners is what a division can come down to (Chazelle & Dobkin 1985).

#include "core/generate/faces.h"

namespace dune::generate {

/// Replaces three faces in a row by two, or one, wherever the result is convex, flat and no thinner than before (or than `leastAngle`,
/// radians). Faces that went are empty loops. O(n log n) as a rule.
void mergeThroughReflex(Faces& faces, double leastAngle);

}  // namespace dune::generate
