#pragma once
// A face laid on the level again, with as many corners as it takes.

#include "core/hand/edit.h"

namespace dune::hand {

/// Convex faces that cover an outline and stay within 4 cm of the level wherever it is one surface; the outline's own corners lie on it
/// too, and its sides get the corners that they need. A Problem where there is no level under it. Corners go in where the faces
/// are farthest off (greedy insertion, in every triangle at once: Garland & Heckbert 1995), at most 400. O(places looked at × rounds).
Result<std::vector<std::vector<Vec3>>> drapedFaces(const std::vector<Vec3>& outline, const LevelAt& levelAt);

}  // namespace dune::hand
