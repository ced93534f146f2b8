#include <nlohmann/json.hpp>

#include "core/base/file.h"
#include "core/base/text.h"
#include "import/tiles/map_reader.h"

namespace dune::import {

namespace {

using nlohmann::json;

/// The library throws on what is missing or of another kind; reading() turns that into a Problem.
class JsonReader : MapReader {
 public:
  JsonReader(std::string path, const TileReading& reading) : MapReader(std::move(path), reading) {}

  template <class Answer, class Read>
  Result<Answer> reading(Read&& read) {
    const auto bytes = readFile(path_);
    if (!bytes) return bytes.problem();
    try {
      const json root = json::parse(*bytes);
      return read(root);
    } catch (const json::exception& e) {
      return damagedMap(path_, sentenceOf(e.what()));
    }
  }

  Result<TileMap> map(const json& j) {
    TileMap map;
    map.width = j.at("width").get<int>(), map.height = j.at("height").get<int>();
    map.tileWidth = j.at("tilewidth").get<int>(), map.tileHeight = j.at("tileheight").get<int>();
    if (auto problem = checkMap(map, j.value("orientation", std::string()), path_)) return *problem;
    for (const json& node : list(j, "tilesets"))
      if (auto set = setOf(node); set)
        map.sets.push_back(*std::move(set));
      else
        return set.problem();
    if (auto problem = layers(j, TileLayer{}, map)) return *problem;
    map.besides = besides();
    return map;
  }

  Result<TileSet> tiles(const json& j) {
    TileSet set;
    set.tileWidth = j.value("tilewidth", 0), set.tileHeight = j.value("tileheight", 0);
    for (const json& t : list(j, "tiles")) {
      Tile tile{sort(t), solid(t), {}};
      const json group = t.value("objectgroup", json::object());
      for (const json& o : list(group, "objects"))
        if (auto s = shape(o); s)
          tile.shapes.push_back(*std::move(s));
        else
          return s.problem();
      set.tiles[t.at("id").get<std::uint32_t>()] = std::move(tile);
    }
    return set;
  }

  Result<TileShape> kept(const json& j) { return ownShape(j.at("object"), {}); }

 private:
  static const json& list(const json& j, const char* name) {
    static const json none = json::array();
    const auto found = j.find(name);
    return found == j.end() || !found->is_array() ? none : *found;
  }

  std::optional<bool> solid(const json& j) const {
    for (const json& p : list(j, "properties"))
      if (p.value("name", std::string()) == reading_.solid)
        if (const auto value = p.find("value"); value != p.end()) {
          if (value->is_boolean()) return value->get<bool>();
          if (value->is_number()) return value->get<double>() != 0;
          if (value->is_string()) return value->get<std::string>() == "true" || value->get<std::string>() == "1";
        }
    return std::nullopt;
  }

  static std::string sort(const json& j) {
    const auto word = j.value("class", std::string());
    return word.empty() ? j.value("type", std::string()) : word;
  }

  Result<TileSet> setOf(const json& j) {
    const auto source = j.value("source", std::string());
    auto set = source.empty() ? tiles(j) : namedSet(source);
    if (set) set->first = j.value("firstgid", 1u);
    return set;
  }

  Result<TileShape> shape(const json& j) {
    const auto from = j.value("template", std::string());
    if (from.empty()) return ownShape(j, {});
    auto kept = namedShape(from);
    return kept ? ownShape(j, *std::move(kept)) : kept;
  }

  /// What the node itself says, over what is known already.
  Result<TileShape> ownShape(const json& j, TileShape s) const {
    s.name = j.value("name", s.name);
    if (const std::string word = sort(j); !word.empty()) s.sort = word;
    s.at = {j.value("x", 0.0), j.value("y", 0.0)};
    s.size = {j.value("width", s.size.x), j.value("height", s.size.y)};
    s.turn = j.value("rotation", s.turn);
    s.tile = j.value("gid", s.tile);
    if (const auto own = solid(j)) s.solid = own;
    if (j.value("ellipse", false)) s.kind = TileShape::Kind::ellipse;
    if (j.value("point", false) || j.contains("text")) s.kind = TileShape::Kind::point;  // words stand in nobody's way
    for (const auto& [name, kind] : {std::pair{"polygon", TileShape::Kind::polygon}, {"polyline", TileShape::Kind::polyline}})
      if (j.contains(name)) {
        s.kind = kind, s.corners.clear();
        for (const json& c : j.at(name)) s.corners.push_back({c.at("x").get<double>(), c.at("y").get<double>()});
      }
    return s;
  }

  /// Layers in their order, those of groups with what the group says.
  std::optional<Problem> layers(const json& parent, const TileLayer& group, TileMap& map) {
    for (const json& node : list(parent, "layers")) {
      const auto kind = node.value("type", std::string());
      if (kind != "tilelayer" && kind != "objectgroup" && kind != "group") continue;
      TileLayer layer = within(group, node.value("name", kind), {node.value("offsetx", 0.0), node.value("offsety", 0.0)}, solid(node));
      if (auto problem = kind == "group" ? layers(node, layer, map) : kind == "tilelayer" ? cells(node, layer) : shapes(node, layer))
        return problem;
      if (kind != "group") map.layers.push_back(std::move(layer));
    }
    return std::nullopt;
  }

  std::optional<Problem> shapes(const json& node, TileLayer& layer) {
    for (const json& o : list(node, "objects"))
      if (auto s = shape(o); s)
        layer.shapes.push_back(*std::move(s));
      else
        return s.problem();
    return std::nullopt;
  }

  std::optional<Problem> block(const json& part, const CellBlock& at, const std::string& encoding, const std::string& compression,
                               TileLayer& layer) const {
    const json& data = part.at("data");
    if (data.is_array()) return addPlain(at, data.get<std::vector<std::uint32_t>>(), layer);
    return addPacked(at, data.get_ref<const std::string&>(), encoding, compression, layer);
  }

  std::optional<Problem> cells(const json& node, TileLayer& layer) {
    const auto encoding = node.value("encoding", std::string("csv")), compression = node.value("compression", std::string());
    if (!node.contains("chunks"))
      return block(node, {0, 0, node.at("width").get<int>(), node.at("height").get<int>(), {}}, encoding, compression, layer);
    for (const json& part : node.at("chunks")) {
      const CellBlock at{part.value("x", 0), part.value("y", 0), part.at("width").get<int>(), part.at("height").get<int>(), {}};
      if (auto problem = block(part, at, encoding, compression, layer)) return problem;
    }
    return std::nullopt;
  }
};

}  // namespace

Result<TileMap> readJsonMap(const std::string& path, const TileReading& reading) {
  JsonReader reader(path, reading);
  return reader.reading<TileMap>([&](const json& j) { return reader.map(j); });
}
Result<TileSet> readJsonSet(const std::string& path, const TileReading& reading) {
  JsonReader reader(path, reading);
  return reader.reading<TileSet>([&](const json& j) { return reader.tiles(j); });
}
Result<TileShape> readJsonTemplate(const std::string& path, const TileReading& reading) {
  JsonReader reader(path, reading);
  return reader.reading<TileShape>([&](const json& j) { return reader.kept(j); });
}

}  // namespace dune::import
