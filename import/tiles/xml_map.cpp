#include <cmath>
#include <pugixml.hpp>

#include <set>

#include "core/base/file.h"
#include "import/tiles/cell_data.h"
#include "import/tiles/readers.h"

namespace dune::import {

namespace {

using pugi::xml_node;

class XmlReader {
 public:
  XmlReader(std::string path, const TileReading& reading) : path_(std::move(path)), reading_(reading) {}

  Result<TileMap> map() {
    auto root = open("map");
    if (!root) return root.problem();
    TileMap map;
    map.width = root->attribute("width").as_int(), map.height = root->attribute("height").as_int();
    map.tileWidth = root->attribute("tilewidth").as_int(), map.tileHeight = root->attribute("tileheight").as_int();
    if (auto problem = checkMap(map, root->attribute("orientation").as_string(), path_)) return *problem;
    for (const xml_node& node : root->children("tileset"))
      if (auto set = setOf(node); set)
        map.sets.push_back(*std::move(set));
      else
        return set.problem();
    if (auto problem = layers(*root, "", Vec2{0}, std::nullopt, map)) return *problem;
    map.besides = {besides_.begin(), besides_.end()};
    return map;
  }

  Result<TileSet> set() {
    auto root = open("tileset");
    return root ? tiles(*root) : Result<TileSet>(root.problem());
  }

  Result<TileShape> kept() {
    auto root = open("template");
    return root ? ownShape(root->child("object"), {}) : Result<TileShape>(root.problem());
  }

 private:
  Result<xml_node> open(const char* name) {
    auto bytes = readFile(path_);
    if (!bytes) return bytes.problem();
    const pugi::xml_parse_result parsed = document_.load_buffer(bytes->data(), bytes->size());
    if (!parsed) return damagedMap(path_, std::string(parsed.description()) + ", at byte " + std::to_string(parsed.offset) + ".");
    const xml_node root = document_.child(name);
    if (!root) return damagedMap(path_, "it has no <" + std::string(name) + ">.");
    return root;
  }

  std::optional<bool> solid(const xml_node& node) const {
    for (const xml_node& p : node.child("properties").children("property"))
      if (reading_.solid == p.attribute("name").as_string()) return p.attribute("value").as_bool();
    return std::nullopt;
  }

  static std::string sort(const xml_node& node) {
    const char* word = node.attribute("class").as_string();
    return *word ? word : node.attribute("type").as_string();
  }

  Result<TileSet> setOf(const xml_node& node) {
    const auto first = node.attribute("firstgid").as_uint(1);
    const std::string source = node.attribute("source").as_string();
    auto set = source.empty() ? tiles(node) : readTileSet(beside(source), reading_);
    if (set) set->first = first;
    return set;
  }

  Result<TileSet> tiles(const xml_node& node) {
    TileSet set;
    set.tileWidth = node.attribute("tilewidth").as_int(), set.tileHeight = node.attribute("tileheight").as_int();
    for (const xml_node& t : node.children("tile")) {
      Tile tile{sort(t), solid(t), {}};
      for (const xml_node& o : t.child("objectgroup").children("object"))
        if (auto s = shape(o); s)
          tile.shapes.push_back(*std::move(s));
        else
          return s.problem();
      set.tiles[t.attribute("id").as_uint()] = std::move(tile);
    }
    return set;
  }

  Result<TileShape> shape(const xml_node& node) {
    const std::string from = node.attribute("template").as_string();
    if (from.empty()) return ownShape(node, {});
    auto kept = readTemplate(beside(from), reading_);
    return kept ? ownShape(node, *std::move(kept)) : kept;
  }

  /// What the node itself says, over what is known already.
  Result<TileShape> ownShape(const xml_node& node, TileShape s) const {
    if (node.attribute("name")) s.name = node.attribute("name").as_string();
    if (const std::string word = sort(node); !word.empty()) s.sort = word;
    s.at = {node.attribute("x").as_double(), node.attribute("y").as_double()};
    s.size = {node.attribute("width").as_double(s.size.x), node.attribute("height").as_double(s.size.y)};
    s.turn = node.attribute("rotation").as_double(s.turn);
    s.tile = node.attribute("gid").as_uint(s.tile);
    if (const auto own = solid(node)) s.solid = own;
    if (node.child("ellipse")) s.kind = TileShape::Kind::ellipse;
    if (node.child("point")) s.kind = TileShape::Kind::point;
    if (node.child("text")) s.kind = TileShape::Kind::point;  // words stand in nobody's way
    for (const auto& [name, kind] : {std::pair{"polygon", TileShape::Kind::polygon}, {"polyline", TileShape::Kind::polyline}})
      if (const xml_node outline = node.child(name)) {
        s.kind = kind;
        if (auto problem = corners(outline.attribute("points").as_string(), s)) return *problem;
      }
    return s;
  }

  std::optional<Problem> corners(const std::string& points, TileShape& s) const {
    s.corners.clear();
    const char* at = points.c_str();
    while (*at) {
      char* end = nullptr;
      const double x = std::strtod(at, &end);
      if (end == at || *end != ',') return damagedMap(path_, "the corners of an outline cannot be read.");
      at = end + 1;
      const double y = std::strtod(at, &end);
      if (end == at) return damagedMap(path_, "the corners of an outline cannot be read.");
      s.corners.push_back({x, y});
      for (at = end; *at == ' ';) ++at;
    }
    return std::nullopt;
  }

  /// Layers in their order, those of groups with what the group says.
  std::optional<Problem> layers(const xml_node& parent, const std::string& above, const Vec2& offset, std::optional<bool> solidAbove, TileMap& map) {
    for (const xml_node& node : parent.children()) {
      const std::string kind = node.name();
      if (kind != "layer" && kind != "objectgroup" && kind != "group") continue;
      TileLayer layer;
      layer.name = above + (node.attribute("name") ? node.attribute("name").as_string() : kind.c_str());
      layer.offset = offset + Vec2{node.attribute("offsetx").as_double(), node.attribute("offsety").as_double()};
      layer.solid = solid(node);
      if (!layer.solid) layer.solid = solidAbove;
      if (kind == "group") {
        if (auto problem = layers(node, layer.name + "/", layer.offset, layer.solid, map)) return problem;
        continue;
      }
      if (auto problem = kind == "layer" ? cells(node, layer) : shapes(node, layer)) return problem;
      map.layers.push_back(std::move(layer));
    }
    return std::nullopt;
  }

  std::optional<Problem> shapes(const xml_node& node, TileLayer& layer) {
    for (const xml_node& o : node.children("object"))
      if (auto s = shape(o); s)
        layer.shapes.push_back(*std::move(s));
      else
        return s.problem();
    return std::nullopt;
  }

  std::optional<Problem> cells(const xml_node& node, TileLayer& layer) {
    const xml_node data = node.child("data");
    const std::string encoding = data.attribute("encoding").as_string(), compression = data.attribute("compression").as_string();
    const bool chunked = static_cast<bool>(data.child("chunk"));
    for (xml_node part = chunked ? data.child("chunk") : data; part; part = chunked ? part.next_sibling("chunk") : xml_node()) {
      const xml_node& size = chunked ? part : node;
      CellBlock block{part.attribute("x").as_int(), part.attribute("y").as_int(), size.attribute("width").as_int(), size.attribute("height").as_int(), {}};
      const auto count = cellCount(block, path_);
      if (!count) return count.problem();
      if (encoding.empty()) {
        for (const xml_node& t : part.children("tile")) block.cells.push_back(t.attribute("gid").as_uint());
        if (block.cells.size() != *count) return damagedMap(path_, "layer " + layer.name + " has too few or too many tiles.");
      } else {
        auto decoded = decodeCells(part.text().as_string(), encoding, compression, *count);
        if (!decoded) return damagedMap(path_ + ", layer " + layer.name, decoded.problem().what);
        block.cells = *std::move(decoded);
      }
      layer.blocks.push_back(std::move(block));
    }
    return std::nullopt;
  }

  /// Where a named file lies; it is remembered.
  std::string beside(const std::string& named) { return *besides_.insert(besideOf(path_, named)).first; }

  std::string path_;
  const TileReading& reading_;
  std::set<std::string> besides_;
  pugi::xml_document document_;
};

}  // namespace

Result<TileMap> readXmlMap(const std::string& path, const TileReading& reading) { return XmlReader(path, reading).map(); }
Result<TileSet> readXmlSet(const std::string& path, const TileReading& reading) { return XmlReader(path, reading).set(); }
Result<TileShape> readXmlTemplate(const std::string& path, const TileReading& reading) { return XmlReader(path, reading).kept(); }

}  // namespace dune::import
