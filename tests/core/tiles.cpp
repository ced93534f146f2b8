// Tile maps: every form of a file gives the same level, flips by brute force, and the ground of flat levels against exact offsets.

#include <QTemporaryDir>
#include <QtTest>
#include <polyclipping/clipper.hpp>

#include "core/base/file.h"
#include "core/generate/build.h"
#include "core/level/import.h"
#include "core/level/prism.h"
#include "core/system/threads.h"
#include "demo/date_garden.h"
#include "import/tiles/cell_data.h"
#include "import/tiles/cell_regions.h"
#include "import/tiles/flat_level.h"
#include "import/tiles/readers.h"
#include "import/tiles/tile_outline.h"
#include "tests/core/tile_text.h"

using namespace dune;
using namespace dune::import;
using level::Role;

class TestTiles : public QObject {
  Q_OBJECT

  QTemporaryDir folder_;

  std::string write(const QString& name, const std::string& content) {
    const std::string path = folder_.filePath(name).toStdString();
    if (!writeFile(path, content)) qFatal("cannot write");
    return path;
  }
  Result<std::shared_ptr<const level::Level>> read(const QString& name, const std::string& content,
                                                   const level::ImportOptions& options = level::importFor("a.tmx")) {
    ThreadedJob job;
    return level::importLevel(write(name, content), options, job);
  }
  static bool same(const level::Level& a, const level::Level& b) {
    if (a.objects.size() != b.objects.size()) return false;
    for (std::size_t i = 0; i < a.objects.size(); ++i) {
      const level::Object &p = a.objects[i], &q = b.objects[i];
      if (p.name != q.name || p.vertices != q.vertices || p.triangles != q.triangles || p.counts != q.counts) return false;
    }
    return true;
  }
  /// A map of one layer of one tile, with words put in.
  static std::string little(const std::string& mapWords, const std::string& setWords, const std::string& data) {
    return "<map orientation=\"orthogonal\" width=\"2\" height=\"1\" tilewidth=\"32\" tileheight=\"32\" " + mapWords +
           "><tileset firstgid=\"1\" " + setWords + "/><layer name=\"floor\" width=\"2\" height=\"1\">" + data + "</layer></map>";
  }
  static double areaOf(const nav::NavMesh& m) {
    double area = 0;
    for (std::uint32_t f = 0; f < m.faceCount(); ++f) area += nav::faceArea(m, nav::FaceId{f});
    return area;
  }

 private slots:
  void everyFormOfAFileGivesTheSameLevel() {
    for (std::uint64_t seed = 0; seed < 12; ++seed) {
      test::Random random(seed);
      const bool infinite = seed % 2 == 1;
      const TileMap map = test::randomMap(random, infinite);
      const auto wanted = flatLevel(map, "made");
      QVERIFY(wanted.ok() && wanted->objects.size() >= 4);
      const test::CellForm& form = test::cellForms()[seed % test::cellForms().size()];
      const auto xml = readTileMap(write("m.tmx", test::xmlMap(map, form, infinite)), {});
      QVERIFY2(xml.ok(), xml.ok() ? "" : xml.problem().text().c_str());
      QVERIFY(same(*flatLevel(*xml, "x"), *wanted));
      const auto json = readTileMap(write("m.tmj", test::jsonMap(map, form, infinite)), {});
      QVERIFY2(json.ok(), json.ok() ? "" : json.problem().text().c_str());
      QVERIFY(same(*flatLevel(*json, "x"), *wanted));
    }
  }

  void cellsComeBackFromEveryPacking() {
    test::Random random(3);
    std::vector<std::uint32_t> cells;
    for (int i = 0; i < 500; ++i) cells.push_back(static_cast<std::uint32_t>(random.next()));
    for (const auto& form : test::cellForms()) {
      const std::string text = form.of(cells);
      const auto back = decodeCells(text, form.encoding, form.compression, cells.size());
      QVERIFY(back.ok() && *back == cells);
      // One tile more or fewer than the size says, or bytes that are cut, are refused, not filled up.
      QVERIFY(!decodeCells(text, form.encoding, form.compression, cells.size() + 1).ok());
      QVERIFY(!decodeCells(text, form.encoding, form.compression, cells.size() - 1).ok());
      QVERIFY(!decodeCells(text.substr(0, text.size() * 2 / 3), form.encoding, form.compression, cells.size()).ok());
    }
    QVERIFY(!decodeCells("AAAA", "base64", "lzma", 1).ok());
    QVERIFY(!decodeCells("AAAA", "base32", "", 1).ok());
  }

  void rectanglesCoverEveryCellOnce() {
    for (std::uint64_t seed = 0; seed < 40; ++seed) {
      test::Random random(seed);
      std::set<std::pair<int, int>> wanted;
      std::vector<Cell> cells;
      for (int i = 0; i < 120; ++i) {
        const Cell c{random.upTo(14) - 7, random.upTo(12) - 6};
        cells.push_back(c), wanted.insert({c.x, c.y});
      }
      std::set<std::pair<int, int>> covered;
      for (const CellBox& b : rectanglesOf(cells))
        for (int y = b.y0; y < b.y1; ++y)
          for (int x = b.x0; x < b.x1; ++x) QVERIFY(covered.insert({x, y}).second);
      QVERIFY(covered == wanted);
    }
    std::vector<Cell> field;
    for (int i = 0; i < 64 * 64; ++i) field.push_back({i % 64, i / 64});
    QCOMPARE(rectanglesOf(field).size(), std::size_t{1});
  }

  void flipsTurnShapesAsPixelsTurn() {
    // The same flips done to a picture of the tile, pixel by pixel: diagonal, then across, then down.
    constexpr int kSide = 16;
    TileSet set{1, kSide, kSide, {}};
    TileShape shape;
    shape.kind = TileShape::Kind::polygon, shape.at = {1, 2}, shape.corners = {{0, 0}, {12, 1}, {4, 11}};
    const Polygon plainOutline = placedOutline(shape, set, 1, {0, kSide});
    for (std::uint32_t flips = 0; flips < 8; ++flips) {
      const std::uint32_t number = 1 | flips << 29;
      const Polygon outline = placedOutline(shape, set, number, {0, kSide});
      for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
          int fromX = x, fromY = y;
          if (number & kFlipDown) fromY = kSide - 1 - fromY;
          if (number & kFlipAcross) fromX = kSide - 1 - fromX;
          if (number & kFlipDiagonal) std::swap(fromX, fromY);
          QCOMPARE(contains(outline, {x + 0.5, y + 0.5}), contains(plainOutline, {fromX + 0.5, fromY + 0.5}));
        }
    }
  }

  void sheetsHaveTheAreaOfTheirOutline() {
    for (std::uint64_t seed = 0; seed < 60; ++seed) {
      test::Random random(seed);
      // A star never crosses itself; corners on its sides turn nowhere.
      Polygon star;
      const int corners = 3 + random.upTo(14);
      for (int i = 0; i < corners; ++i) {
        const double angle = 2 * kPi * i / corners, out = random.in(0.3, 3);
        star.push_back(Vec2{std::cos(angle), std::sin(angle)} * out);
        if (i > 0 && i % 3 == 0) star.insert(star.end() - 1, (star[star.size() - 2] + star.back()) * 0.5);
      }
      if (seed % 2) std::reverse(star.begin(), star.end());
      level::Object object;
      level::addSheet(object, star, 1);
      double area = 0;
      for (const auto& t : object.triangles) {
        const std::array<Vec2, 3> q{plan(object.vertices[t[0]]), plan(object.vertices[t[1]]), plan(object.vertices[t[2]])};
        QVERIFY(doubleArea(q) > 0);
        area += doubleArea(q) / 2;
      }
      QVERIFY(std::abs(area - std::abs(doubleArea(star)) / 2) < 1e-9);
      // A closed solid has every edge as often one way as the other.
      level::Object solid;
      level::addPrism(solid, star, 0, 2);
      std::map<std::pair<std::uint32_t, std::uint32_t>, int> edges;
      for (const auto& t : solid.triangles)
        for (std::size_t i = 0; i < 3; ++i) ++edges[{t[i], t[(i + 1) % 3]}];
      for (const auto& [edge, count] : edges) QVERIFY(count == 1 && edges.count({edge.second, edge.first}) == 1);
    }
  }

  void whatIsSolidIsSaidByTileLayerAndOutline() {
    const std::string set =
        "<tileset firstgid=\"1\" tilewidth=\"32\" tileheight=\"32\"><tile id=\"0\" class=\"hedge\"><properties><property name=\"solid\" "
        "type=\"bool\" value=\"true\"/></properties></tile></tileset>";
    const std::string data = "<data encoding=\"csv\">1,2</data>";
    auto map = [&](const std::string& properties) {
      return "<map orientation=\"orthogonal\" width=\"2\" height=\"1\" tilewidth=\"32\" tileheight=\"32\">" + set +
             "<layer name=\"L\" width=\"2\" height=\"1\">" + properties + data +
             "</layer><objectgroup name=\"O\"><object id=\"1\" name=\"free\" x=\"1\" y=\"1\" width=\"9\" height=\"9\"/><object id=\"2\" "
             "x=\"1\" y=\"1\" width=\"9\" height=\"9\">" +
             "<properties><property name=\"solid\" type=\"bool\" value=\"true\"/></properties></object></objectgroup></map>";
    };
    const auto plain = read("p.tmx", map(""));
    QVERIFY(plain.ok());
    const auto& objects = (*plain)->objects;
    QCOMPARE(objects.size(), std::size_t{4});
    QVERIFY(objects[0].name == "L" && objects[0].counts == Role::ground);
    QVERIFY(objects[1].name == "L: hedge" && objects[1].counts == Role::obstacle);
    QVERIFY(objects[2].name == "O/free" && objects[2].counts == Role::ignored);
    QVERIFY(objects[3].name == "O/outline 2" && objects[3].counts == Role::obstacle);
    // 32 pixels are a metre, and what is solid is two metres high.
    QVERIFY(glm::distance(objects[0].bounds().size(), Vec3(2, 0, 1)) < 1e-12);
    QVERIFY(std::abs(objects[1].bounds().max.y - 2) < 1e-12 && objects[1].bounds().max.x == 1);
    const auto walls = read("w.tmx", map("<properties><property name=\"solid\" type=\"bool\" value=\"true\"/></properties>"));
    QVERIFY(walls.ok() && (*walls)->objects.size() == 3);
    QVERIFY((*walls)->objects[0].counts == Role::obstacle && (*walls)->objects[0].bounds().max.x == 2);
    level::ImportOptions other = level::importFor("a.tmx");
    other.solid = "blocks", other.spacing = 1;
    const auto unsaid = read("u.tmx", map(""), other);
    QVERIFY(unsaid.ok() && (*unsaid)->objects[0].bounds().max.x == 64);
    for (const level::Object& o : (*unsaid)->objects) QVERIFY(o.counts != Role::obstacle);
  }

  void setsAndKeptOutlinesMayBeFilesOfTheirOwn() {
    write("set.tsx",
          "<tileset tilewidth=\"32\" tileheight=\"32\"><tile id=\"1\"><properties><property name=\"solid\" type=\"bool\" "
          "value=\"true\"/></properties></tile></tileset>");
    write("set.tsj",
          "{\"tilewidth\": 32, \"tileheight\": 32, \"tiles\": [{\"id\": 1, \"properties\": [{\"name\": \"solid\", \"value\": true}]}]}");
    write("post.tx",
          "<template><object name=\"post\" width=\"10\" height=\"10\"><properties><property name=\"solid\" type=\"bool\" "
          "value=\"true\"/></properties></object></template>");
    const std::string post = "<objectgroup name=\"O\"><object id=\"1\" template=\"post.tx\" x=\"40\" y=\"4\"/></objectgroup></map>";
    std::string map = little("", "source=\"set.tsx\"", "<data encoding=\"csv\">1,2</data>");
    map.replace(map.find("</map>"), 6, post);
    const auto xml = read("own.tmx", map);
    QVERIFY2(xml.ok(), xml.ok() ? "" : xml.problem().text().c_str());
    QCOMPARE((*xml)->objects.size(), std::size_t{3});
    QVERIFY((*xml)->objects[1].bounds().min.x == 1 && (*xml)->objects[1].counts == Role::obstacle);
    QVERIFY((*xml)->objects[2].name == "O/post" && (*xml)->objects[2].counts == Role::obstacle);
    QCOMPARE((*xml)->besides.size(), std::size_t{2});
    for (const char* name : {"set.tsx", "post.tx"})
      QVERIFY(std::ranges::count((*xml)->besides, folder_.filePath(QString::fromLatin1(name)).toStdString()) == 1);
    const auto json = read("own.tmj",
                           "{\"orientation\": \"orthogonal\", \"width\": 2, \"height\": 1, \"tilewidth\": 32, \"tileheight\": 32, "
                           "\"tilesets\": [{\"firstgid\": 1, \"source\": \"set.tsj\"}], \"layers\": ["
                           "{\"type\": \"tilelayer\", \"name\": \"floor\", \"width\": 2, \"height\": 1, \"data\": [1, 2]}, {\"type\": "
                           "\"group\", \"name\": \"G\", \"layers\": ["
                           "{\"type\": \"objectgroup\", \"name\": \"O\", \"offsetx\": 0, \"objects\": [{\"template\": \"post.tx\", \"x\": "
                           "40, \"y\": 4}]}]}]}");
    QVERIFY2(json.ok(), json.ok() ? "" : json.problem().text().c_str());
    QVERIFY((*json)->objects[2].name == "G/O/post" && (*json)->objects[2].vertices == (*xml)->objects[2].vertices);
  }

  void brokenMapsAreProblemsThatNameTheFile_data() {
    QTest::addColumn<std::string>("content");
    const std::string data = "<data encoding=\"csv\">1,1</data>";
    QTest::newRow("not orthogonal") << std::string(
        "<map orientation=\"isometric\" width=\"2\" height=\"1\" tilewidth=\"32\" tileheight=\"32\"/>");
    QTest::newRow("empty") << std::string();
    QTest::newRow("cut") << little("", "", data).substr(0, 120);
    QTest::newRow("no tile size") << std::string("<map orientation=\"orthogonal\" width=\"2\" height=\"1\"/>");
    QTest::newRow("nothing in it") << std::string(
        "<map orientation=\"orthogonal\" width=\"2\" height=\"1\" tilewidth=\"32\" tileheight=\"32\"/>");
    QTest::newRow("a set that is missing") << little("", "source=\"nowhere.tsx\"", data);
    QTest::newRow("too few tiles") << little("", "", "<data encoding=\"csv\">1</data>");
    QTest::newRow("words for tiles") << little("", "", "<data encoding=\"csv\">1,wall</data>");
    QTest::newRow("unknown packing") << little("", "", "<data encoding=\"base64\" compression=\"rar\">AAAA</data>");
    QTest::newRow("huge") << std::string(
        "<map orientation=\"orthogonal\" width=\"900000\" height=\"900000\" tilewidth=\"32\" tileheight=\"32\"><tileset "
        "firstgid=\"1\"/><layer width=\"900000\" "
        "height=\"900000\"><data encoding=\"base64\" compression=\"zlib\">AAAA</data></layer></map>");
    QTest::newRow("a tile of no set") << std::string(
        "<map orientation=\"orthogonal\" width=\"1\" height=\"1\" tilewidth=\"32\" tileheight=\"32\"><layer width=\"1\" height=\"1\"><data "
        "encoding=\"csv\">7</data></layer></map>");
    QTest::newRow("an outline that is no outline") << std::string(
        "<map orientation=\"orthogonal\" width=\"1\" height=\"1\" tilewidth=\"32\" tileheight=\"32\"><objectgroup><object><polygon "
        "points=\"0,0 5\"/></object></objectgroup></map>");
    QTest::newRow("an outline at infinity") << std::string(
        "<map orientation=\"orthogonal\" width=\"1\" height=\"1\" tilewidth=\"32\" tileheight=\"32\"><objectgroup><object x=\"inf\" "
        "y=\"0\" width=\"5\" "
        "height=\"5\"/></objectgroup></map>");
  }
  void brokenMapsAreProblemsThatNameTheFile() {
    QFETCH(std::string, content);
    const auto level = read("broken.tmx", content);
    QVERIFY(!level.ok());
    QVERIFY2(
        level.problem().text().find("broken.tmx") != std::string::npos || level.problem().text().find("nowhere.tsx") != std::string::npos,
        level.problem().text().c_str());
    QVERIFY(!level.problem().what.empty());
  }
  void aTemplateThatNamesItselfEnds() {
    write("loop.tx", "<template><object template=\"loop.tx\" name=\"loop\" width=\"9\" height=\"9\"/></template>");
    std::string map = little("", "", "<data encoding=\"csv\">1,1</data>");
    map.replace(map.find("</map>"), 6,
                "<objectgroup name=\"O\"><object id=\"1\" template=\"loop.tx\" x=\"4\" y=\"4\"/></objectgroup></map>");
    QVERIFY(read("loop.tmx", map).ok());
  }

  /// What remains of the ground when what is solid is grown by the radius and the ground's own border shrunk by it.
  static double exactArea(const level::Level& level, double r) {
    using namespace ClipperLib;
    constexpr double kScale = 1e6;
    Paths ground, solid;
    for (const level::Object& o : level.objects)
      for (const auto& t : o.triangles) {
        Path p;
        for (const std::uint32_t v : t) p.emplace_back(std::llround(o.vertices[v].x * kScale), std::llround(-o.vertices[v].z * kScale));
        if (Area(p) == 0) continue;
        if (!Orientation(p)) ReversePath(p);
        if (o.counts == Role::ground) ground.push_back(p);
        if (o.counts == Role::obstacle) solid.push_back(p);
      }
    auto run = [](const Paths& subject, const Paths& clip, ClipType type) {
      Clipper c;
      c.AddPaths(subject, ptSubject, true);
      c.AddPaths(clip, ptClip, true);
      Paths out;
      c.Execute(type, out, pftNonZero, pftNonZero);
      return out;
    };
    auto offset = [](const Paths& paths, double by) {
      ClipperOffset o(2, 1e-4 * kScale);
      o.AddPaths(paths, jtRound, etClosedPolygon);
      Paths out;
      o.Execute(out, by * kScale);
      return out;
    };
    // Clipper's inward offset rounds where it should; the outward offset of what is not ground does it at inner corners too.
    const Paths free = run(offset(run(ground, {}, ctUnion), -r), offset(run(solid, {}, ctUnion), r), ctDifference);
    double area = 0;
    for (const Path& p : free) area += Area(p);
    return area / kScale / kScale;
  }
  void groundOfFlatLevelsIsTheExactOffset() {
    for (std::uint64_t seed = 0; seed < 12; ++seed) {
      test::Random random(seed + 50);
      const TileMap map = test::randomMap(random, false);
      auto level = flatLevel(map, "made");
      QVERIFY(level.ok());
      for (level::Object& o : level->objects)
        for (Vec3& v : o.vertices.edit()) v *= Vec3{1.0 / 32, 2, 1.0 / 32};
      level::World world = level::plainWorld(std::make_shared<level::Level>(*level));
      for (std::size_t i = 0; i < world.roles.size(); ++i) world.roles[i] = level->objects[i].counts;
      nav::Agent agent;
      agent.radius = 0.2;
      const auto b = test::built(world, agent);
      QVERIFY(b != nullptr);
      const double exact = exactArea(*level, agent.radius), area = areaOf(b->mesh);
      QVERIFY2(area >= 0.995 * exact && area <= 1.0005 * exact,
               qPrintable(QStringLiteral("seed %1: %2 of %3 m2").arg(seed).arg(area).arg(exact)));
    }
  }
  void theDateGardenHasItsGround() {
    write(demo::kGardenTilesFile, demo::gardenTiles());
    const auto level = read(demo::kGardenMapFile, demo::gardenMap());
    QVERIFY2(level.ok(), level.ok() ? "" : level.problem().text().c_str());
    const auto b = test::built(
        [&] {
          level::World world = level::plainWorld(*level);
          for (std::size_t i = 0; i < world.roles.size(); ++i) world.roles[i] = (*level)->objects[i].counts;
          return world;
        }(),
        demo::gardenProject().agents->agents[0]);
    const double exact = exactArea(**level, b->agent.radius);
    QVERIFY2(std::abs(areaOf(b->mesh) - exact) < 0.002 * exact, qPrintable(QStringLiteral("%1 of %2 m2").arg(areaOf(b->mesh)).arg(exact)));
  }
};

QTEST_APPLESS_MAIN(TestTiles)
#include "tiles.moc"
