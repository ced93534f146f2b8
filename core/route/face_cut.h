#pragma once
// A face cut into triangles none of which is without area.
//
// Where a corner lies straight on a side of its face, as where a wall ends on a long edge, the fan at a corner of that side has triangles
// without area, and what lies at the corner between would be seen from nowhere but along the side.

#include <array>
#include <cstdint>
#include <span>
#include <vector>

#include "core/base/vec.h"

namespace dune::route {

struct CutTriangle {
  std::array<std::uint32_t, 3> corner;  ///< of the face, counter-clockwise
  /// What lies over each edge, which begins at the corner of that number: the side of the face that begins there, or another triangle.
  struct Beyond {
    bool isSide;
    std::uint32_t number;  ///< of the side, or the triangle
    std::uint32_t edge;    ///< its number in that triangle
  };
  std::array<Beyond, 3> beyond;
};

/// Whether the fan at its first corner will do. O(corners).
bool isFan(std::span<const Vec2> corners);
/// Cuts a convex face, counter-clockwise in plan, by taking off the best-shaped corner each time. O(corners²).
std::vector<CutTriangle> cutFace(std::span<const Vec2> corners);

}  // namespace dune::route
