#include <cmath>
#include <pugixml.hpp>

#include "core/base/file.h"
#include "import/tiles/map_reader.h"

namespace dune::import {

namespace {

using pugi::xml_node;

class XmlReader : MapReader {
 public:
  XmlReader(std::string path, const TileReading& reading) : MapReader(std::move(path), reading) {}

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
    if (auto problem = layers(*root, TileLayer{}, map)) return *problem;
    map.besides = besides();
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
    auto set = source.empty() ? tiles(node) : namedSet(source);
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
    auto kept = namedShape(from);
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
  std::optional<Problem> layers(const xml_node& parent, const TileLayer& group, TileMap& map) {
    for (const xml_node& node : parent.children()) {
      const std::string kind = node.name();
      if (kind != "layer" && kind != "objectgroup" && kind != "group") continue;
      const Vec2 offset{node.attribute("offsetx").as_double(), node.attribute("offsety").as_double()};
      TileLayer layer = within(group, node.attribute("name") ? node.attribute("name").as_string() : kind, offset, solid(node));
      if (auto problem = kind == "group" ? layers(node, layer, map) : kind == "layer" ? cells(node, layer) : shapes(node, layer))
        return problem;
      if (kind != "group") map.layers.push_back(std::move(layer));
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
      CellBlock block{part.attribute("x").as_int(),
                      part.attribute("y").as_int(),
                      size.attribute("width").as_int(),
                      size.attribute("height").as_int(),
                      {}};
      std::vector<std::uint32_t> plain;
      for (const xml_node& t : part.children("tile")) plain.push_back(t.attribute("gid").as_uint());
      if (auto problem = encoding.empty() ? addPlain(std::move(block), std::move(plain), layer)
                                          : addPacked(std::move(block), part.text().as_string(), encoding, compression, layer))
        return problem;
    }
    return std::nullopt;
  }

 private:
  pugi::xml_document document_;
};

}  // namespace

Result<TileMap> readXmlMap(const std::string& path, const TileReading& reading) { return XmlReader(path, reading).map(); }
Result<TileSet> readXmlSet(const std::string& path, const TileReading& reading) { return XmlReader(path, reading).set(); }
Result<TileShape> readXmlTemplate(const std::string& path, const TileReading& reading) { return XmlReader(path, reading).kept(); }

}  // namespace dune::import
