#pragma once
// Objects split into what hangs together, for files that come as one object: roles need something to hold on to.

#include "core/base/result.h"
#include "core/level/level.h"

namespace dune::level {

constexpr std::size_t kMostPieces = 20000;

/// Every object in pieces of triangles that share corners (nearer than 0.01 mm). An object that is one piece stays as it is. A piece is
/// called after its object, or where the level has but one after the material of most of its area, and after where its middle is: "stone at
/// 12, -4" (x and z in whole metres), so that it keeps its name when others come and go; names may repeat. Each has the material of most of
/// its area. Refuses a level that falls into more than kMostPieces. O(n log n).
Result<Level> inPieces(Level level, const std::string& path);

}  // namespace dune::level
