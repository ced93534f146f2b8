#pragma once
// A tile map as a level: one pixel is one unit, y down becomes z, the ground lies at height 0 and what is solid stands up to height 1.
//
// 1. A tile layer is an object made of its tiles. The layer's own property says whether it is solid; else it is ground.
// 2. Solid tiles of a layer that is ground are an object for each sort of them: "Garden: hedge".
// 3. A tile with collision shapes is solid in those shapes only, and ground all over.
// 4. An outline of an object layer is an object of its own: solid where it, or its layer, says so, else there but ignored.

#include "core/level/level.h"
#include "import/tiles/tile_map.h"

namespace dune::import {

/// Refuses tile numbers that no set has, and maps without any tile or outline.
Result<level::Level> flatLevel(const TileMap& map, const std::string& path);

}  // namespace dune::import
