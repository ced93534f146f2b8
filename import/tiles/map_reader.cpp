#include "import/tiles/map_reader.h"

#include <filesystem>

#include "import/tiles/cell_data.h"

namespace dune::import {

TileLayer MapReader::within(const TileLayer& group, const std::string& name, const Vec2& offset, std::optional<bool> solid) {
  TileLayer layer;
  layer.name = group.name.empty() ? name : group.name + "/" + name;
  layer.offset = group.offset + offset;
  layer.solid = solid ? solid : group.solid;
  return layer;
}

std::optional<Problem> MapReader::addPlain(CellBlock block, std::vector<std::uint32_t> cells, TileLayer& layer) const {
  const auto count = cellCount(block, path_);
  if (!count) return count.problem();
  if (cells.size() != *count) return damagedMap(path_, "layer " + layer.name + " has too few or too many tiles.");
  block.cells = std::move(cells);
  layer.blocks.push_back(std::move(block));
  return std::nullopt;
}

std::optional<Problem> MapReader::addPacked(CellBlock block, std::string_view data, const std::string& encoding,
                                            const std::string& compression, TileLayer& layer) const {
  const auto count = cellCount(block, path_);
  if (!count) return count.problem();
  auto cells = decodeCells(data, encoding, compression, *count);
  if (!cells) return damagedMap(path_ + ", layer " + layer.name, cells.problem().what);
  return addPlain(std::move(block), *std::move(cells), layer);
}

std::string MapReader::beside(const std::string& named) {
  const std::filesystem::path file(named);
  const std::string path = file.is_absolute() ? named : (std::filesystem::path(path_).parent_path() / file).lexically_normal().string();
  return *besides_.insert(path).first;
}

}  // namespace dune::import
