#pragma once
// Outlines that a person draws, made into convex faces.

#include "core/base/result.h"
#include "core/base/vec.h"

#include <vector>

namespace dune::hand {

/// "at 1.20, 0.00, -3.41", for messages.
std::string placeText(const Vec3& p);

/// The convex faces of an outline, few, without new corners: itself where it is convex. Corners on straight sides stay. A Problem where
/// it has no area, runs clockwise seen from above or crosses itself. O(n log n) and O(n²) small.
Result<std::vector<std::vector<Vec3>>> convexFaces(const std::vector<Vec3>& outline);

/// Whether corners are those of a face that a mesh may have: convex, counter-clockwise, with area, within 65 km of the origin. O(n).
bool isFace(const std::vector<Vec3>& corners);

/// The nearest place of the lattice, with its height.
Vec3 onLattice(const Vec3& p);
/// Without corners that repeat one another on the lattice.
std::vector<Vec3> onLattice(const std::vector<Vec3>& outline);

/// The outline around some faces that hang together in one piece without holes, corners on straight sides left out; nothing where they do
/// not.
std::vector<Vec3> outlineAround(const std::vector<std::vector<Vec3>>& faces);

}  // namespace dune::hand
