#include "import/tiles/tile_map.h"

namespace dune::import {

namespace {

constexpr int kMostTiles = 1 << 20;   // along one side
constexpr int kMostPixels = 1 << 16;  // of one tile

bool makesSense(int value, int most) { return value > 0 && value <= most; }

}  // namespace

const TileSet* TileMap::setOf(std::uint32_t number) const {
  const TileSet* best = nullptr;
  for (const TileSet& s : sets)
    if (s.first <= (number & kTileNumber) && (!best || s.first > best->first)) best = &s;
  return best;
}

Result<std::size_t> cellCount(const CellBlock& block, const std::string& path) {
  if (block.width < 0 || block.width > kMostTiles || block.height < 0 || block.height > kMostTiles)
    return damagedMap(path, "the size of a layer makes no sense.");
  return static_cast<std::size_t>(block.width) * static_cast<std::size_t>(block.height);
}

Problem damagedMap(const std::string& path, const std::string& why) {
  return {ProblemCode::damaged, "The tile map cannot be read: " + why, path, "saving it again in the tile editor."};
}

std::optional<Problem> checkMap(const TileMap& map, const std::string& orientation, const std::string& path) {
  if (orientation != "orthogonal")
    return Problem{
        ProblemCode::unusable,
        "The tile map is " + (orientation.empty() ? std::string("of no known kind") : orientation) + "; only orthogonal maps are read.",
        path, "a map of square or rectangular tiles seen from above."};
  if (!makesSense(map.tileWidth, kMostPixels) || !makesSense(map.tileHeight, kMostPixels))
    return damagedMap(path, "the size of its tiles makes no sense.");
  if (map.width < 0 || map.width > kMostTiles || map.height < 0 || map.height > kMostTiles)
    return damagedMap(path, "its size makes no sense.");
  return std::nullopt;
}

}  // namespace dune::import
