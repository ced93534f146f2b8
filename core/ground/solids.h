#pragma once
// Which triangles of an object belong to closed pieces of surface, and which of them face down inside their piece.
//
// A closed piece whose faces look outward is a solid; one whose faces look inward is a room, and what is in it counts as usual. Where they
// look both ways facing says nothing, and it is a solid. What is inside is decided by parity. Everything here belongs to an object alone,
// so an object that moves asks no other again.

#include <cstdint>
#include <vector>

#include "core/base/job.h"
#include "core/level/level.h"

namespace dune::ground {

struct Solids {
  std::vector<char> repeated;  ///< one a triangle: whether it lies exactly on earlier ones and is left out
  std::vector<std::int32_t>
      piece;  ///< one a triangle: the first triangle of its closed piece, or -1 when the piece has open edges or is a room
  std::vector<char> underside;  ///< one a triangle: its upper side lies inside its own solid, or outside its own room
};

/// O(n log n) in the object's triangles. Corners nearer than tuning::kWeld are one corner. Without meaning when cancelled.
Solids findSolids(const level::Object& object, const Job& job);

}  // namespace dune::ground
