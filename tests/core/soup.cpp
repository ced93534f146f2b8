// Any triangle soup: what is wrong with the triangles must not change the ground that they make.

#include <QtTest>

#include "tests/core/scenes.h"

using namespace dune;
using test::built;
using test::Scene;

class TestSoup : public QObject {
  Q_OBJECT

  static constexpr double kSize = 14, kRadius = 0.4;

  /// A floor with crates that stand on it, at a turn.
  static level::World room(double turn = 0.4) {
    return Scene()
        .floor(0, 0, kSize, kSize, 0, "floor")
        .box({2, 0, 2}, {4, 2, 3.5}, "crate a")
        .box({7, 0, 6}, {8.5, 1.2, 9}, "crate b")
        .box({10, 0, 2}, {12, 3, 4}, "crate c")
        .turned(turn)
        .world();
  }
  static level::World changed(const level::World& world, const std::function<void(level::Level&)>& change) {
    auto level = std::make_shared<level::Level>(*world.level);
    change(*level);
    return level::plainWorld(std::move(level));
  }
  static double area(const level::World& world) {
    const auto b = built(world);
    return b && nav::checkStructure(b->mesh).empty() ? nav::totalArea(b->mesh) : -1;
  }
  static void compare(const level::World& world, double expected, double allowed) {
    const double got = area(world);
    QVERIFY2(std::abs(got - expected) <= allowed, qPrintable(QStringLiteral("%1 m² against %2 m²").arg(got).arg(expected)));
  }

 private slots:
  void windingDoesNotMatter() {
    const double expected = area(room());
    for (std::uint64_t seed = 0; seed < 8; ++seed) {
      test::Random random(seed);
      const level::World flipped = changed(room(), [&](level::Level& l) {
        for (level::Object& o : l.objects)
          for (auto& t : o.triangles.edit())
            if (random.upTo(2) == 0) std::swap(t[1], t[2]);
      });
      compare(flipped, expected, 1e-6);
    }
  }
  void copiesOfTrianglesDoNotMatter() {
    const double expected = area(room());
    // Each floor triangle twice, once with two sides; each crate as a second object at the same place.
    const level::World doubled = changed(room(), [](level::Level& l) {
      level::Object copy = l.objects[0];
      copy.name += " again";
      for (auto& t : copy.triangles.edit()) std::swap(t[1], t[2]);
      std::vector<level::Object> more{copy};
      for (std::size_t i = 1; i < l.objects.size(); ++i) more.push_back(l.objects[i]), more.back().name += " again";
      l.objects.insert(l.objects.end(), more.begin(), more.end());
    });
    compare(doubled, expected, 1e-3);
  }
  void triangleOrderDoesNotMatter() {
    const double expected = area(room());
    const level::World shuffled = changed(room(), [](level::Level& l) {
      test::Random random(4);
      for (level::Object& o : l.objects)
        for (std::size_t i = o.triangles.size(); i > 1; --i)
          std::swap(o.triangles.edit()[i - 1], o.triangles.edit()[static_cast<std::size_t>(random.upTo(static_cast<int>(i)))]);
      std::reverse(l.objects.begin(), l.objects.end());
    });
    compare(shuffled, expected, 1e-3);
  }
  void floorsInUnevenPiecesAreOneFloor() {
    // Tiles whose corners lie in the middle of their neighbours' edges.
    for (const double turn : {0.0, 0.7, 2.1}) {
      Scene tiles;
      for (int r = 0; r < 7; ++r)
        for (int c = -1; c < 7; ++c) {
          const double from = std::max(0.0, c * 2.0 + r % 2), to = std::min(14.0, (c + 1) * 2.0 + r % 2);
          if (from < to) tiles.floor(from, r * 2, to, r * 2 + 2, 0, "tile");
        }
      const auto b = built(tiles.turned(turn).world());
      QCOMPARE(nav::countIslands(b->mesh), std::size_t{1});
      QVERIFY(std::abs(nav::totalArea(b->mesh) - 13.2 * 13.2) < 0.1);
    }
  }
  void cracksNarrowerThanTheJoiningDistanceClose() {
    for (const double gap : {1e-5, 1e-3, 0.02, 0.045})
      for (const double turn : {0.0, 0.5}) {
        const auto b = built(Scene().floor(0, 0, 6, 8).floor(6 + gap, 0, 12, 8).turned(turn).world());
        QCOMPARE(nav::countIslands(b->mesh), std::size_t{1});
        QVERIFY2(std::abs(nav::totalArea(b->mesh) - 11.2 * 7.2) < 0.1, qPrintable(QString::number(gap)));
      }
    QCOMPARE(nav::countIslands(built(Scene().floor(0, 0, 6, 8).floor(6.08, 0, 12, 8).world())->mesh), std::size_t{2});
  }
  void solidsThatRunIntoEachOtherAreTheirUnion() {
    const double expected = area(Scene().floor(0, 0, kSize, kSize).box({4, -1, 4}, {9, 3, 6}).turned(0.3).world());
    // The same outline from three boxes that overlap, sunk to different depths; their tops lie at one height.
    const level::World pieces = Scene()
                                    .floor(0, 0, kSize, kSize)
                                    .box({4, -1, 4}, {6.5, 3, 6}, "a")
                                    .box({5.5, -0.3, 4}, {8, 3, 6}, "b")
                                    .box({7, -2, 4}, {9, 3, 6}, "c")
                                    .turned(0.3)
                                    .world();
    compare(pieces, expected, 0.05);
  }
  void needlesAndPointsDoNotMatter() {
    const double expected = area(room(0));
    const level::World dirty = changed(room(0), [](level::Level& l) {
      level::Object o;
      o.name = "dirt";
      test::Random random(9);
      for (int i = 0; i < 60; ++i) {
        const auto base = static_cast<std::uint32_t>(o.vertices.size());
        const Vec3 p{random.in(1, 13), 0, random.in(1, 13)}, q{random.in(1, 13), 0, random.in(1, 13)};
        const double width = i % 3 == 0 ? 0 : i % 3 == 1 ? 1e-9 : 1e-6;
        o.vertices.edit().insert(o.vertices.edit().end(), {p, q, (p + q) * 0.5 + Vec3{width, 0, width}});
        o.triangles.edit().push_back({base, base + 1, base + 2});
        o.triangles.edit().push_back({base, base, base + 1});
      }
      l.objects.push_back(std::move(o));
    });
    compare(dirty, expected, 0.05);
  }
  void aWallWithoutThicknessStandsInTheWayOnBothSides() {
    for (const double turn : {0.0, 0.35, 1.0}) {
      const auto b = built(Scene().floor(0, 0, 12, 10).quad({6, 0, 0}, {6, 0, 10}, {6, 3, 10}, {6, 3, 0}, "wall").turned(turn).world());
      QCOMPARE(nav::countIslands(b->mesh), std::size_t{2});
      QVERIFY(std::abs(nav::totalArea(b->mesh) - 2 * 5.2 * 9.2) < 0.05);
    }
  }
  void platesInTheAirTakeHeadroomOnly() {
    // A plate at half the height: no ground under it and a radius around, ground on top of it.
    const auto low = built(Scene().floor(0, 0, 12, 12).floor(4, 4, 8, 8, 1, "plate").turned(0.2).world());
    const double hole = 4 * 4 + 4 * 4 * kRadius + kPi * kRadius * kRadius;
    QVERIFY2(std::abs(nav::totalArea(low->mesh) - (11.2 * 11.2 - hole + 3.2 * 3.2)) < 0.1,
             qPrintable(QString::number(nav::totalArea(low->mesh))));
    // High enough, it takes nothing.
    const auto high = built(Scene().floor(0, 0, 12, 12).floor(4, 4, 8, 8, 1.81, "plate").turned(0.2).world());
    QVERIFY(std::abs(nav::totalArea(high->mesh) - (11.2 * 11.2 + 3.2 * 3.2)) < 0.1);
  }
  void aBoxWithoutABottomIsStillInTheWay() {
    const level::World open = changed(room(), [](level::Level& l) {
      for (level::Object& o : l.objects)
        if (o.name != "floor")
          std::erase_if(o.triangles.edit(), [&](const auto& t) {
            return std::max({o.vertices[t[0]].y, o.vertices[t[1]].y, o.vertices[t[2]].y}) < 1e-6;
          });
    });
    // The floor inside an open box stays as an island of its own where there is headroom: only what the outside reaches is compared.
    const auto whole = built(room()), shell = built(open);
    double largest = 0, expected = 0;
    for (std::uint32_t f = 0; f < shell->mesh.faceCount(); ++f)
      if (shell->mesh.island[f] == 0) largest += nav::faceArea(shell->mesh, nav::FaceId{f});
    for (std::uint32_t f = 0; f < whole->mesh.faceCount(); ++f)
      if (whole->mesh.island[f] == 0) expected += nav::faceArea(whole->mesh, nav::FaceId{f});
    QVERIFY(std::abs(largest - expected) < 0.01);
  }
  void verySmallTrianglesBesideVeryLargeOnes() {
    // Half of the floor is one quad, the other half ten thousand triangles that wave by a millimetre.
    level::Object fine;
    fine.name = "fine";
    constexpr std::uint32_t kSide = 70;
    for (std::uint32_t r = 0; r <= kSide; ++r)
      for (std::uint32_t c = 0; c <= kSide; ++c)
        fine.vertices.edit().push_back({7 + c * 0.1, c == 0 || c == kSide || r == 0 || r == kSide ? 0 : 0.001 * ((r + c) % 2), r * 0.2});
    for (std::uint32_t r = 0; r < kSide; ++r)
      for (std::uint32_t c = 0; c < kSide; ++c) {
        const std::uint32_t i = r * (kSide + 1) + c;
        fine.triangles.edit().push_back({i, i + kSide + 1, i + kSide + 2});
        fine.triangles.edit().push_back({i, i + kSide + 2, i + 1});
      }
    const level::World world = changed(Scene().floor(0, 0, 7, 14).world(), [&](level::Level& l) { l.objects.push_back(fine); });
    const auto b = built(world);
    QCOMPARE(nav::countIslands(b->mesh), std::size_t{1});
    QVERIFY(std::abs(nav::totalArea(b->mesh) - 13.2 * 13.2) < 0.05);
    QVERIFY2(b->mesh.faceCount() < 40, qPrintable(QString::number(b->mesh.faceCount())));
  }
  void anythingAtAllGivesAWholeMesh() {
    for (std::uint64_t seed = 0; seed < 60; ++seed) {
      test::Random random(seed + 3000);
      Scene scene;
      for (int i = 0; i < 50; ++i) {
        const double size = std::pow(10, random.in(-2, 1.2));
        auto near = [&](const Vec3& p) { return p + Vec3{random.in(-size, size), random.in(-size, size) * 0.3, random.in(-size, size)}; };
        const Vec3 p{random.in(0, 20), random.in(0, 3), random.in(0, 20)};
        scene.quad(p, near(p), near(p), near(p), "q" + std::to_string(i));
      }
      const auto b = built(scene.world());
      QVERIFY(b);
      const auto wrong = nav::checkStructure(b->mesh);
      QVERIFY2(wrong.empty(),
               qPrintable(QStringLiteral("seed %1: %2").arg(seed).arg(wrong.empty() ? QString() : QString::fromStdString(wrong[0]))));
    }
  }
};

QTEST_APPLESS_MAIN(TestSoup)
#include "soup.moc"
