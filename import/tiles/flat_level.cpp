#include "import/tiles/flat_level.h"

#include <algorithm>
#include <set>

#include "core/base/text.h"
#include "core/level/prism.h"
#include "import/tiles/cell_regions.h"
#include "import/tiles/tile_outline.h"

namespace dune::import {

namespace {

using level::Object;
using level::Role;

constexpr double kFoot = -0.1;  // solids reach through the ground, so that the ground under them is inside of them
constexpr double kSheet = 0.5;  // pixels: how thick an open line is

class FlatLevel {
 public:
  FlatLevel(const TileMap& map, std::string path) : map_(map), path_(std::move(path)) {}

  Result<level::Level> make() {
    for (const TileLayer& layer : map_.layers) {
      if (auto problem = addTiles(layer)) return *problem;
      for (std::size_t i = 0; i < layer.shapes.size(); ++i)
        if (auto problem = addShape(layer, layer.shapes[i], i)) return *problem;
    }
    if (level_.objects.empty())
      return Problem{ProblemCode::unusable, "The tile map has no tiles and no outlines.", path_, "a map with a tile layer."};
    level_.besides = map_.besides;
    return std::move(level_);
  }

 private:
  /// What a layer's tiles come to, by the name of the object; "" is the layer itself.
  struct Parts {
    std::map<std::string, std::vector<Cell>> cells;
    std::map<std::string, std::vector<Polygon>> outlines;
  };

  std::optional<Problem> addTiles(const TileLayer& layer) {
    Parts ground, solid;
    for (const CellBlock& block : layer.blocks)
      for (std::size_t i = 0; i < block.cells.size(); ++i) {
        if ((block.cells[i] & kTileNumber) == 0) continue;
        const auto wide = static_cast<std::size_t>(block.width);
        const Cell cell{block.x + static_cast<int>(i % wide), block.y + static_cast<int>(i / wide)};
        if (auto problem = addTile(layer, block.cells[i], cell, ground, solid)) return problem;
      }
    finish(layer, ground, Role::ground);
    finish(layer, solid, Role::obstacle);
    return std::nullopt;
  }

  std::optional<Problem> addTile(const TileLayer& layer, std::uint32_t number, const Cell& cell, Parts& ground, Parts& solid) const {
    const TileSet* set = map_.setOf(number);
    if (!set)
      return damagedMap(path_, text("layer %s has the tile %u, which no set of tiles has.", layer.name.c_str(), number & kTileNumber));
    const auto found = set->tiles.find((number & kTileNumber) - set->first);
    const Tile* tile = found == set->tiles.end() ? nullptr : &found->second;
    const std::optional<bool> own = tile ? tile->solid : std::nullopt;
    const bool wall = own.value_or(layer.solid.value_or(false));
    const bool shaped = tile && std::ranges::any_of(tile->shapes, [](const TileShape& s) {
                          return s.solid.value_or(true) && s.kind != TileShape::Kind::point;
                        });
    if (!layer.solid.value_or(false)) ground.cells[""].push_back(cell);
    // A wall in a layer of walls is the layer; in a layer of ground it is something of its own.
    const std::string name = layer.solid.value_or(false) ? "" : tile && !tile->sort.empty() ? tile->sort : "solid";
    if (!shaped || own == false) {
      if (wall) solid.cells[name].push_back(cell);
      return std::nullopt;
    }
    for (const TileShape& s : tile->shapes)
      if (s.solid.value_or(true))
        if (Polygon outline = placedOutline(s, *set, number, lowerLeft(cell)); outline.size() >= 2)
          solid.outlines[name].push_back(s.kind == TileShape::Kind::polyline ? thickened(outline) : std::move(outline));
    return std::nullopt;
  }

  void finish(const TileLayer& layer, const Parts& parts, Role counts) {
    std::set<std::string> names;
    for (const auto& [name, cells] : parts.cells) names.insert(name);
    for (const auto& [name, outlines] : parts.outlines) names.insert(name);
    for (const std::string& name : names) {
      Object object;
      object.name = name.empty() ? layer.name : layer.name + ": " + name;
      object.counts = counts;
      const auto add = counts == Role::ground ? addFlat : addSolid;
      if (const auto cells = parts.cells.find(name); cells != parts.cells.end())
        for (const CellBox& b : rectanglesOf(cells->second)) add(object, moved(boxOutline(b), layer.offset));
      if (const auto outlines = parts.outlines.find(name); outlines != parts.outlines.end())
        for (const Polygon& outline : outlines->second) add(object, moved(outline, layer.offset));
      keep(std::move(object));
    }
  }

  std::optional<Problem> addShape(const TileLayer& layer, const TileShape& shape, std::size_t number) {
    Object object;
    const std::string word = !shape.name.empty() ? shape.name : !shape.sort.empty() ? shape.sort : "outline " + std::to_string(number + 1);
    object.name = layer.name + "/" + word;
    std::optional<bool> solid = shape.solid;
    if (shape.tile != 0) {
      const TileSet* set = map_.setOf(shape.tile);
      if (!set)
        return damagedMap(
            path_, text("an object of layer %s has the tile %u, which no set of tiles has.", layer.name.c_str(), shape.tile & kTileNumber));
      const auto tile = set->tiles.find((shape.tile & kTileNumber) - set->first);
      if (!solid && tile != set->tiles.end()) solid = tile->second.solid;
      // The picture stands on its lower left corner and is turned about it.
      TileShape whole = shape;
      whole.kind = TileShape::Kind::polygon;
      whole.corners = {{0, 0}, {shape.size.x, 0}, {shape.size.x, -shape.size.y}, {0, -shape.size.y}};
      addOutline(object, whole, layer.offset);
    } else {
      addOutline(object, shape, layer.offset);
    }
    object.counts = solid.value_or(layer.solid.value_or(false)) ? Role::obstacle : Role::ignored;
    keep(std::move(object));
    return std::nullopt;
  }

  void addOutline(Object& object, const TileShape& shape, const Vec2& offset) const {
    Polygon outline = outlineOf(shape);
    if (outline.size() < 2) return;
    if (shape.kind == TileShape::Kind::polyline) outline = thickened(outline);
    addSolid(object, moved(std::move(outline), offset + shape.at));
  }

  static void addFlat(Object& object, const Polygon& outline) { level::addSheet(object, fromAbove(outline), 0); }
  static void addSolid(Object& object, const Polygon& outline) { level::addPrism(object, fromAbove(outline), kFoot, 1); }

  void keep(Object object) {
    if (object.triangles.empty()) return;
    const int count = ++used_[object.name];
    if (count > 1) object.name += " (" + std::to_string(count) + ")";
    level_.objects.push_back(std::move(object));
  }

  Vec2 lowerLeft(const Cell& cell) const {
    return {cell.x * static_cast<double>(map_.tileWidth), (cell.y + 1) * static_cast<double>(map_.tileHeight)};
  }
  Polygon boxOutline(const CellBox& b) const {
    const Vec2 tile{map_.tileWidth, map_.tileHeight}, low = Vec2{b.x0, b.y0} * tile, high = Vec2{b.x1, b.y1} * tile;
    return {low, {high.x, low.y}, high, {low.x, high.y}};
  }
  static Polygon moved(Polygon outline, const Vec2& by) {
    for (Vec2& p : outline) p += by;
    return outline;
  }
  /// Plan space has the other sense of rotation.
  static Polygon fromAbove(const Polygon& outline) {
    Polygon seen;
    for (const Vec2& p : outline) seen.push_back({p.x, -p.y});
    return seen;
  }
  /// There and back beside itself: a line as a thin wall.
  static Polygon thickened(const Polygon& line) {
    Polygon outline = line;
    for (std::size_t i = line.size(); i-- > 0;) {
      const Vec2 along = line[std::min(i + 1, line.size() - 1)] - line[i > 0 ? i - 1 : 0];
      const double length = glm::length(along);
      outline.push_back(line[i] + (length > 0 ? leftOf(along) * (kSheet / length) : Vec2{0, kSheet}));
    }
    return outline;
  }

  const TileMap& map_;
  std::string path_;
  level::Level level_;
  std::map<std::string, int> used_;
};

}  // namespace

Result<level::Level> flatLevel(const TileMap& map, const std::string& path) { return FlatLevel(map, path).make(); }

}  // namespace dune::import
