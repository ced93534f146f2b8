#pragma once
// A tile map as its file says it: lengths in pixels, y down, tiles still turned and flipped. Read by xml_map and json_map, made into
// a level by flat_level.

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/base/vec.h"

namespace dune::import {

/// An outline of an object layer, or a collision shape of a tile.
struct TileShape {
  enum class Kind : std::uint8_t { rectangle, ellipse, polygon, polyline, point };
  Kind kind = Kind::rectangle;
  std::string name, sort;  ///< `sort` is the word the author gave for what it is
  Vec2 at{0};              ///< of the map, or of the tile's upper left corner
  Vec2 size{0};
  double turn = 0;            ///< about `at`, degrees, clockwise as seen
  std::vector<Vec2> corners;  ///< from `at`
  std::uint32_t tile = 0;     ///< of an object that shows a tile: its number with its flips; `at` is its lower left corner
  std::optional<bool> solid;
};

struct Tile {
  std::string sort;
  std::optional<bool> solid;
  std::vector<TileShape> shapes;
};

struct TileSet {
  std::uint32_t first = 1;  ///< the number of its tile 0 in the map
  int tileWidth = 0, tileHeight = 0;
  std::map<std::uint32_t, Tile> tiles;  ///< those about which something is said, by their number in the set
};

/// A rectangle of tile numbers with their flips, row by row; 0: no tile.
struct CellBlock {
  int x = 0, y = 0, width = 0, height = 0;  ///< in tiles
  std::vector<std::uint32_t> cells;
};

struct TileLayer {
  std::string name;  ///< with the names of its groups before it: "floor/walls"
  Vec2 offset{0};
  std::optional<bool> solid;
  std::vector<CellBlock> blocks;
  std::vector<TileShape> shapes;  ///< of an object layer
};

struct TileMap {
  int width = 0, height = 0, tileWidth = 0, tileHeight = 0;  ///< the first two in tiles
  std::vector<TileSet> sets;
  std::vector<TileLayer> layers;
  std::vector<std::string> besides;  ///< files that it names, as they were opened, each once

  /// The tile that a number of a layer means, flips aside, and its set; nothing when no set has it.
  const TileSet* setOf(std::uint32_t number) const;
};

constexpr std::uint32_t kFlipAcross = 0x80000000u, kFlipDown = 0x40000000u, kFlipDiagonal = 0x20000000u;
constexpr std::uint32_t kTileNumber = 0x0fffffffu;

/// What both readers refuse: maps that are not orthogonal, and sizes that make no sense.
std::optional<Problem> checkMap(const TileMap& map, const std::string& orientation, const std::string& path);

/// How many numbers a block has by its size; a problem where that makes no sense.
Result<std::size_t> cellCount(const CellBlock& block, const std::string& path);

/// A damaged map, said.
Problem damagedMap(const std::string& path, const std::string& why);

}  // namespace dune::import
