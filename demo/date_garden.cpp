#include "demo/date_garden.h"

#include "core/base/text.h"

namespace dune::demo {

namespace {

constexpr int kTile = 32;  // pixels
// '.' sand, '~' channel, '=' planks over it, '#' hedge, 'a' to 'd' hedge with its outer corner cut.
constexpr const char* kPicture[] = {
    "########################################", "#..................~~..................#", "#..................~~..................#",
    "#..a#####b..a###b..~~..................#", "#..#.....#..#...#..~~...######.######..#", "#..#.....#..#...#..==...................",
    "#..#.....#..#...#..==...................", "#..c##.##d..#...#..~~..................#", "#...........#......~~~~~~~~~~~~~~=~~~~~#",
    "#...........#......~~..................#", "#..a##.##b..#...#..~~..................#", "#..#.....#..#...#..~~..a######b..a###b.#",
    "...#.....#..#...#..~~..#......#..#...#.#", "...#.....#..#...#..~~..#......#......#.#", "#..c#####d..c###d..~~..#......#..#...#.#",
    "#..................~~..#......#..#...#.#", "#..................~~..c##..##d..c###d.#", "#~~~~~~~~==~~~~~~~~~~..................#",
    "#..................~~..................#", "#..................~~..a#####.######b..#", "#..................==..#............#..#",
    "#..................~~..#............#..#", "#..................~~..#............#..#", "#..................~~..c############d..#",
    "#..................~~..................#", "########################################",
};
constexpr int kRows = static_cast<int>(std::size(kPicture)), kColumns = 40;

enum TileNumber : unsigned { none, sand, planks, channel, hedge, corner };  // as the map counts them

unsigned cornerTile(char letter) {
  const unsigned across = letter == 'b' || letter == 'd' ? 0x80000000u : 0, down = letter == 'c' || letter == 'd' ? 0x40000000u : 0;
  return corner | across | down;
}

unsigned groundTile(char letter) { return letter == '=' ? planks : sand; }
unsigned channelTile(char letter) { return letter == '~' ? channel : none; }
unsigned hedgeTile(char letter) { return letter == '#' ? hedge : letter >= 'a' && letter <= 'd' ? cornerTile(letter) : none; }

std::string layer(int id, const char* name, const char* properties, unsigned (*tileOf)(char)) {
  std::string xml = text(" <layer id=\"%d\" name=\"%s\" width=\"%d\" height=\"%d\">\n%s  <data encoding=\"csv\">\n", id, name, kColumns,
                         kRows, properties);
  for (int y = 0; y < kRows; ++y)
    for (int x = 0; x < kColumns; ++x) {
      const bool last = y + 1 == kRows && x + 1 == kColumns;
      xml += std::to_string(tileOf(kPicture[y][x])) + (last ? "\n" : x + 1 == kColumns ? ",\n" : ",");
    }
  return xml + "  </data>\n </layer>\n";
}

constexpr const char* kSolid = "  <properties><property name=\"solid\" type=\"bool\" value=\"true\"/></properties>\n";

/// Six-cornered palm trunks, each of its own size.
std::string palm(int id, double x, double y, double size) {
  std::string points;
  for (int i = 0; i < 6; ++i) points += text("%s%.2f,%.2f", i ? " " : "", size * std::cos(kPi * i / 3), size * std::sin(kPi * i / 3));
  return text("  <object id=\"%d\" name=\"palm %d\" x=\"%g\" y=\"%g\"><polygon points=\"%s\"/></object>\n", id, id, x * kTile, y * kTile,
              points.c_str());
}

std::string outlines() {
  std::string xml = std::string(" <objectgroup id=\"4\" name=\"Outlines\">\n") + kSolid;
  const double palms[][3] = {{4.5, 20, 14}, {8, 22.6, 16},   {12.2, 19.4, 13}, {15.4, 22.2, 17}, {25, 2.2, 15},
                             {31, 1.8, 12}, {35.6, 2.6, 16}, {24, 9.8, 12},    {11, 11.4, 12}};
  int id = 0;
  for (const auto& [x, y, size] : palms) xml += palm(++id, x, y, size);
  xml += text("  <object id=\"20\" name=\"well\" x=\"%d\" y=\"%d\" width=\"70\" height=\"70\"><ellipse/></object>\n", 25 * kTile + 20,
              13 * kTile);
  xml += text("  <object id=\"21\" name=\"bench\" x=\"%d\" y=\"%d\" width=\"80\" height=\"20\" rotation=\"35\"/>\n", 27 * kTile,
              20 * kTile + 26);
  xml += text("  <object id=\"22\" name=\"trellis\" x=\"%d\" y=\"%d\"><polyline points=\"0,0 60,-10 96,30 100,80\"/></object>\n",
              30 * kTile, 21 * kTile + 4);
  return xml + " </objectgroup>\n";
}

}  // namespace

std::string gardenTiles() {
  return text(
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
      "<tileset name=\"date garden\" tilewidth=\"%d\" tileheight=\"%d\" tilecount=\"5\" columns=\"5\">\n"
      " <tile id=\"3\" class=\"hedge\">\n%s </tile>\n"
      " <tile id=\"4\" class=\"hedge\">\n%s"
      "  <objectgroup><object id=\"1\" x=\"0\" y=\"0\"><polygon points=\"18,0 32,0 32,32 0,32 0,18\"/></object></objectgroup>\n"
      " </tile>\n</tileset>\n",
      kTile, kTile, kSolid, kSolid);
}

std::string gardenMap() {
  std::string xml = text(
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
      "<map version=\"1.10\" orientation=\"orthogonal\" width=\"%d\" height=\"%d\" tilewidth=\"%d\" tileheight=\"%d\" infinite=\"0\">\n"
      " <tileset firstgid=\"1\" source=\"%s\"/>\n",
      kColumns, kRows, kTile, kTile, kGardenTilesFile);
  xml += layer(1, "Ground", "", groundTile) + layer(2, "Channels", kSolid, channelTile) + layer(3, "Beds", kSolid, hedgeTile) + outlines();
  xml += text(
      " <objectgroup id=\"5\" name=\"Zones\">\n  <object id=\"30\" name=\"shade\" x=\"%d\" y=\"%d\" width=\"120\" height=\"90\"/>\n "
      "</objectgroup>\n",
      4 * kTile, 11 * kTile);
  return xml + "</map>\n";
}

project::Project gardenProject() {
  project::Project p;
  project::edit(p.level, [](project::LevelSection& s) { s.files = {{kGardenMapFile, level::importFor(kGardenMapFile)}}; });
  project::edit(p.agents, [](project::AgentsSection& s) {
    nav::Agent gardener, barrow;
    gardener.name = "Gardener", gardener.radius = 0.3, gardener.height = 1.7;
    barrow.name = "Barrow", barrow.radius = 0.55, barrow.height = 1.2, barrow.speed = 1;
    s.agents = {gardener, barrow};
  });
  project::edit(p.routes, [](project::RoutesSection& s) {
    s.routes = {{1, "West gate to the well", {0.6, 0, 13}, {24.6, 0, 14.6}}, {2, "East gate to the palms", {39.4, 0, 6}, {6, 0, 21}}};
  });
  project::edit(p.cards, [](project::CardsSection& s) { s.cards = {{1, {33.5, 0, 8.5}}}; });
  return p;
}

}  // namespace dune::demo
