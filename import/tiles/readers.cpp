#include "import/tiles/readers.h"

#include "core/base/file.h"

namespace dune::import {

namespace {

bool isJson(const std::string& path) {
  const std::string ending = endingOf(path);
  return ending == ".json" || ending == ".tmj" || ending == ".tsj" || ending == ".tj";
}

}  // namespace

Result<TileMap> readTileMap(const std::string& path, const TileReading& reading) {
  return isJson(path) ? readJsonMap(path, reading) : readXmlMap(path, reading);
}
Result<TileSet> readTileSet(const std::string& path, const TileReading& reading) {
  return isJson(path) ? readJsonSet(path, reading) : readXmlSet(path, reading);
}
Result<TileShape> readTemplate(const std::string& path, const TileReading& reading) {
  return isJson(path) ? readJsonTemplate(path, reading) : readXmlTemplate(path, reading);
}

}  // namespace dune::import
