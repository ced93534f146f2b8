#pragma once
// The two forms in which tile maps are kept. Both readers give the same map; a set of tiles may be in a file of either form.

#include <string>

#include "import/tiles/tile_map.h"

namespace dune::import {

struct TileReading {
  std::string solid = "solid";  ///< the yes-or-no property that says that a tile, a layer or an outline stands in the way
};

/// Maps from XML (.tmx) or JSON (.tmj, .json) by the file's ending.
Result<TileMap> readTileMap(const std::string& path, const TileReading& reading);
/// A set of tiles, or one kept outline, from a file of its own.
Result<TileSet> readTileSet(const std::string& path, const TileReading& reading);
Result<TileShape> readTemplate(const std::string& path, const TileReading& reading);

Result<TileMap> readXmlMap(const std::string& path, const TileReading& reading);
Result<TileSet> readXmlSet(const std::string& path, const TileReading& reading);
Result<TileShape> readXmlTemplate(const std::string& path, const TileReading& reading);
Result<TileMap> readJsonMap(const std::string& path, const TileReading& reading);
Result<TileSet> readJsonSet(const std::string& path, const TileReading& reading);
Result<TileShape> readJsonTemplate(const std::string& path, const TileReading& reading);

}  // namespace dune::import
