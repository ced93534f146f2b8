#pragma once
// What the readers of both forms of tile maps have in common: the files that a map names, its groups of layers, and blocks of tiles.

#include <set>

#include "import/tiles/readers.h"

namespace dune::import {

class MapReader {
 protected:
  MapReader(std::string path, const TileReading& reading) : path_(std::move(path)), reading_(reading) {}

  /// A set of tiles, or a kept outline, from a file that the map names; the file is remembered.
  Result<TileSet> namedSet(const std::string& name) { return readTileSet(beside(name), reading_); }
  Result<TileShape> namedShape(const std::string& name) { return readTemplate(beside(name), reading_); }
  std::vector<std::string> besides() const { return {besides_.begin(), besides_.end()}; }

  /// A layer, or a group of layers, within another group: with what the group says where it says nothing itself.
  static TileLayer within(const TileLayer& group, const std::string& name, const Vec2& offset, std::optional<bool> solid);

  /// Adds a block of tiles to a layer, which must be as many as its size asks for.
  std::optional<Problem> addPlain(CellBlock block, std::vector<std::uint32_t> cells, TileLayer& layer) const;
  std::optional<Problem> addPacked(CellBlock block, std::string_view data, const std::string& encoding, const std::string& compression,
                                   TileLayer& layer) const;

  std::string path_;
  const TileReading& reading_;

 private:
  std::string beside(const std::string& named);

  std::set<std::string> besides_;
};

}  // namespace dune::import
