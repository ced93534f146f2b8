#pragma once
// A tile map written down in all the forms that files have, for tests.

#include <zlib.h>
#include <zstd.h>

#include <string>

#include "core/base/text.h"
#include "import/tiles/tile_map.h"
#include "tests/core/scenes.h"

namespace dune::test {

inline std::string base64(const std::string& bytes) {
  static constexpr char kLetters[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  std::string out;
  for (std::size_t i = 0; i < bytes.size(); i += 3) {
    std::uint32_t held = 0;
    for (std::size_t k = 0; k < 3; ++k) held = held << 8 | (i + k < bytes.size() ? static_cast<unsigned char>(bytes[i + k]) : 0u);
    for (std::size_t k = 0; k < 4; ++k) out += i + k <= bytes.size() ? kLetters[held >> (18 - 6 * k) & 63] : '=';
  }
  return out;
}

inline std::string packed(const std::string& bytes, const std::string& compression) {
  if (compression.empty()) return bytes;
  std::string out(bytes.size() + 200, '\0');
  if (compression == "zstd") {
    out.resize(ZSTD_compress(out.data(), out.size(), bytes.data(), bytes.size(), 3));
    return out;
  }
  z_stream stream{};
  deflateInit2(&stream, 6, Z_DEFLATED, 15 + (compression == "gzip" ? 16 : 0), 8, Z_DEFAULT_STRATEGY);
  stream.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(bytes.data())), stream.avail_in = static_cast<uInt>(bytes.size());
  stream.next_out = reinterpret_cast<Bytef*>(out.data()), stream.avail_out = static_cast<uInt>(out.size());
  deflate(&stream, Z_FINISH);
  out.resize(stream.total_out);
  deflateEnd(&stream);
  return out;
}

struct CellForm {
  std::string encoding, compression;
  std::string of(const std::vector<std::uint32_t>& cells) const {
    std::string out;
    for (std::size_t i = 0; i < cells.size(); ++i) {
      if (encoding == "csv")
        out += (i ? "," : "") + std::to_string(cells[i]);
      else
        for (int b = 0; b < 4; ++b) out += static_cast<char>(cells[i] >> (8 * b) & 255);
    }
    return encoding == "csv" ? out : base64(packed(out, compression));
  }
};

inline const std::vector<CellForm>& cellForms() {
  static const std::vector<CellForm> forms{{"csv", ""}, {"base64", ""}, {"base64", "zlib"}, {"base64", "gzip"}, {"base64", "zstd"}};
  return forms;
}

inline const char* yes(bool value) { return value ? "true" : "false"; }

inline std::string xmlSolid(const std::optional<bool>& solid) {
  return solid
             ? text("<properties><property name=\"other\" value=\"3\"/><property name=\"solid\" type=\"bool\" value=\"%s\"/></properties>",
                    yes(*solid))
             : "";
}
inline std::string jsonSolid(const std::optional<bool>& solid) {
  return solid ? text(", \"properties\": [{\"name\": \"other\", \"value\": 3}, {\"name\": \"solid\", \"type\": \"bool\", \"value\": %s}]",
                      yes(*solid))
               : "";
}

inline std::string xmlShape(const import::TileShape& s) {
  using Kind = import::TileShape::Kind;
  std::string points;
  for (const Vec2& c : s.corners) points += text("%s%.17g,%.17g", points.empty() ? "" : " ", c.x, c.y);
  const std::string inner = s.kind == Kind::ellipse    ? "<ellipse/>"
                            : s.kind == Kind::point    ? "<point/>"
                            : s.kind == Kind::polygon  ? "<polygon points=\"" + points + "\"/>"
                            : s.kind == Kind::polyline ? "<polyline points=\"" + points + "\"/>"
                                                       : "";
  return text("<object id=\"1\" name=\"%s\" type=\"%s\" x=\"%.17g\" y=\"%.17g\" width=\"%.17g\" height=\"%.17g\" rotation=\"%.17g\"%s>",
              s.name.c_str(), s.sort.c_str(), s.at.x, s.at.y, s.size.x, s.size.y, s.turn,
              s.tile ? text(" gid=\"%u\"", s.tile).c_str() : "") +
         xmlSolid(s.solid) + inner + "</object>";
}
inline std::string jsonShape(const import::TileShape& s) {
  using Kind = import::TileShape::Kind;
  std::string points;
  for (const Vec2& c : s.corners) points += text("%s{\"x\": %.17g, \"y\": %.17g}", points.empty() ? "" : ", ", c.x, c.y);
  const std::string more = s.kind == Kind::ellipse    ? ", \"ellipse\": true"
                           : s.kind == Kind::point    ? ", \"point\": true"
                           : s.kind == Kind::polygon  ? ", \"polygon\": [" + points + "]"
                           : s.kind == Kind::polyline ? ", \"polyline\": [" + points + "]"
                                                      : "";
  return text(
             "{\"id\": 1, \"name\": \"%s\", \"type\": \"%s\", \"x\": %.17g, \"y\": %.17g, \"width\": %.17g, \"height\": %.17g, "
             "\"rotation\": %.17g%s",
             s.name.c_str(), s.sort.c_str(), s.at.x, s.at.y, s.size.x, s.size.y, s.turn,
             s.tile ? text(", \"gid\": %u", s.tile).c_str() : "") +
         jsonSolid(s.solid) + more + "}";
}

inline std::string xmlMap(const import::TileMap& map, const CellForm& form, bool infinite) {
  std::string out = text(
      "<?xml version=\"1.0\"?>\n<map orientation=\"orthogonal\" width=\"%d\" height=\"%d\" tilewidth=\"%d\" tileheight=\"%d\" "
      "infinite=\"%d\">\n",
      map.width, map.height, map.tileWidth, map.tileHeight, infinite);
  for (const auto& set : map.sets) {
    out += text("<tileset firstgid=\"%u\" tilewidth=\"%d\" tileheight=\"%d\">", set.first, set.tileWidth, set.tileHeight);
    for (const auto& [id, tile] : set.tiles) {
      out += text("<tile id=\"%u\" class=\"%s\">", id, tile.sort.c_str()) + xmlSolid(tile.solid) + "<objectgroup>";
      for (const auto& s : tile.shapes) out += xmlShape(s);
      out += "</objectgroup></tile>";
    }
    out += "</tileset>\n";
  }
  for (const auto& layer : map.layers) {
    const std::string head = text(" name=\"%s\" offsetx=\"%.17g\" offsety=\"%.17g\"", layer.name.c_str(), layer.offset.x, layer.offset.y);
    if (layer.blocks.empty()) {
      out += "<objectgroup" + head + ">" + xmlSolid(layer.solid);
      for (const auto& s : layer.shapes) out += xmlShape(s);
      out += "</objectgroup>\n";
      continue;
    }
    out += "<layer" + head + text(" width=\"%d\" height=\"%d\">", map.width, map.height) + xmlSolid(layer.solid);
    out += "<data encoding=\"" + form.encoding + "\"" + (form.compression.empty() ? "" : " compression=\"" + form.compression + "\"") + ">";
    for (const auto& b : layer.blocks)
      out += infinite
                 ? text("<chunk x=\"%d\" y=\"%d\" width=\"%d\" height=\"%d\">", b.x, b.y, b.width, b.height) + form.of(b.cells) + "</chunk>"
                 : form.of(b.cells);
    out += "</data></layer>\n";
  }
  return out + "</map>\n";
}

inline std::string jsonMap(const import::TileMap& map, const CellForm& form, bool infinite) {
  auto data = [&](const import::CellBlock& b) {
    std::string numbers;
    for (const std::uint32_t c : b.cells) numbers += (numbers.empty() ? "" : ",") + std::to_string(c);
    return form.encoding == "csv" ? "[" + numbers + "]" : "\"" + form.of(b.cells) + "\"";
  };
  std::string sets, layers;
  for (const auto& set : map.sets) {
    std::string tiles;
    for (const auto& [id, tile] : set.tiles) {
      std::string shapes;
      for (const auto& s : tile.shapes) shapes += (shapes.empty() ? "" : ", ") + jsonShape(s);
      tiles += (tiles.empty() ? "" : ", ") +
               text("{\"id\": %u, \"class\": \"%s\", \"objectgroup\": {\"objects\": [", id, tile.sort.c_str()) + shapes + "]}" +
               jsonSolid(tile.solid) + "}";
    }
    sets += (sets.empty() ? "" : ", ") +
            text("{\"firstgid\": %u, \"tilewidth\": %d, \"tileheight\": %d, \"tiles\": [", set.first, set.tileWidth, set.tileHeight) +
            tiles + "]}";
  }
  for (const auto& layer : map.layers) {
    std::string one =
        text("{\"name\": \"%s\", \"offsetx\": %.17g, \"offsety\": %.17g", layer.name.c_str(), layer.offset.x, layer.offset.y) +
        jsonSolid(layer.solid);
    if (layer.blocks.empty()) {
      std::string shapes;
      for (const auto& s : layer.shapes) shapes += (shapes.empty() ? "" : ", ") + jsonShape(s);
      one += ", \"type\": \"objectgroup\", \"objects\": [" + shapes + "]}";
    } else {
      one += text(", \"type\": \"tilelayer\", \"width\": %d, \"height\": %d, \"encoding\": \"%s\", \"compression\": \"%s\"", map.width,
                  map.height, form.encoding.c_str(), form.compression.c_str());
      if (infinite) {
        std::string chunks;
        for (const auto& b : layer.blocks)
          chunks += (chunks.empty() ? "" : ", ") +
                    text("{\"x\": %d, \"y\": %d, \"width\": %d, \"height\": %d, \"data\": ", b.x, b.y, b.width, b.height) + data(b) + "}";
        one += ", \"chunks\": [" + chunks + "]}";
      } else {
        one += ", \"data\": " + data(layer.blocks[0]) + "}";
      }
    }
    layers += (layers.empty() ? "" : ", ") + one;
  }
  return text(
             "{\"type\": \"map\", \"orientation\": \"orthogonal\", \"width\": %d, \"height\": %d, \"tilewidth\": %d, \"tileheight\": %d, "
             "\"infinite\": %s, \"tilesets\": [",
             map.width, map.height, map.tileWidth, map.tileHeight, yes(infinite)) +
         sets + "], \"layers\": [" + layers + "]}";
}

/// A map with ground, shaped and whole solid tiles under all flips, and outlines of every kind.
inline import::TileMap randomMap(Random& random, bool infinite) {
  using import::TileShape;
  import::TileMap map;
  map.width = 6 + random.upTo(6), map.height = 5 + random.upTo(6), map.tileWidth = 32, map.tileHeight = 32;
  import::TileSet plain{1, 32, 32, {}}, walls{10, 32, 32, {}};
  walls.tiles[0] = {"hedge", true, {}};
  TileShape slope;
  slope.kind = TileShape::Kind::polygon, slope.at = {2, 3}, slope.corners = {{0, 0}, {28, 4}, {20, 26}, {6, 20}};
  walls.tiles[1] = {"rock", std::nullopt, {slope}};
  TileShape box;
  box.at = {4, 0}, box.size = {12, 20}, box.turn = 10;
  walls.tiles[2] = {"", std::nullopt, {box}};
  map.sets = {plain, walls};
  auto block = [&](int x, int y, int width, int height, int oneIn, bool solid) {
    import::CellBlock b{x, y, width, height, {}};
    for (int i = 0; i < width * height; ++i) {
      const std::uint32_t flips = static_cast<std::uint32_t>(random.upTo(8)) << 29;
      b.cells.push_back(!solid               ? 1u + static_cast<std::uint32_t>(random.upTo(3))
                        : random.upTo(oneIn) ? 0u
                                             : (10u + static_cast<std::uint32_t>(random.upTo(3))) | flips);
    }
    return b;
  };
  import::TileLayer ground, things, outlines;
  ground.name = "Ground", things.name = "Things", outlines.name = "Outlines", outlines.solid = true;
  for (const bool second : {false, true}) {
    if (second && !infinite) break;
    const int x = second ? -map.width : 0;
    ground.blocks.push_back(block(x, 0, map.width, map.height, 1, false));
    things.blocks.push_back(block(x, 0, map.width, map.height, 7, true));
  }
  for (int i = 0; i < 5; ++i) {
    TileShape s;
    s.kind = static_cast<TileShape::Kind>(i);
    s.name = "thing " + std::to_string(i);
    s.at = {random.in(0, map.width * 32 - 60), random.in(0, map.height * 32 - 60)};
    s.size = {random.in(8, 60), random.in(8, 60)};
    s.turn = random.in(0, 90);
    if (i == 2 || i == 3) s.corners = {{0, 0}, {random.in(10, 50), 5}, {random.in(10, 50), 40}};
    outlines.shapes.push_back(s);
  }
  TileShape picture;
  picture.name = "picture", picture.at = {40, 90}, picture.size = {20, 30}, picture.tile = 11, picture.turn = 20, picture.solid = false;
  outlines.shapes.push_back(picture);
  map.layers = {ground, things, outlines};
  return map;
}

}  // namespace dune::test
