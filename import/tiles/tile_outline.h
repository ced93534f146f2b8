#pragma once
// Outlines of tiles and of object layers as polygons in the map's pixels.

#include <optional>

#include "core/base/plan_geometry.h"
#include "import/tiles/tile_map.h"

namespace dune::import {

/// The corners of an outline around its `at`, turned; y down. A closed polygon but for a polyline; empty for a point, and for what
/// has no size. Ellipses have 32 corners on their line.
Polygon outlineOf(const TileShape& shape);

/// A collision shape of a tile as it lies in the map: flipped and turned with its tile, whose lower left corner is at `corner`.
Polygon placedOutline(const TileShape& shape, const TileSet& set, std::uint32_t number, const Vec2& corner);

}  // namespace dune::import
