// Ground in pieces is one ground wherever every gap is within the joining distance: however many in a row, whichever way they run, at every
// turn of the level.

#include <QtTest>

#include "tests/core/scenes.h"

using namespace dune;
using test::built;
using test::Random;
using test::Scene;

namespace {

constexpr int kTurns = 8;

/// Bars beside each other.
double bars(Scene& scene, double gap) {
  constexpr int kBars = 60;
  constexpr double kWide = 0.03, kLong = 6;
  for (int i = 0; i < kBars; ++i) scene.floor(i * (kWide + gap), 0, i * (kWide + gap) + kWide, kLong, 0, "bar");
  return (kBars * (kWide + gap) - gap - 0.8) * (kLong - 0.8);
}

/// Square tiles, whose gaps cross.
double tiles(Scene& scene, double gap) {
  constexpr int kTiles = 16;
  constexpr double kWide = 0.5;
  for (int i = 0; i < kTiles * kTiles; ++i) {
    const double x = i % kTiles * (kWide + gap), z = i / kTiles * (kWide + gap);
    scene.floor(x, z, x + kWide, z + kWide, 0, "tile");
  }
  const double side = kTiles * (kWide + gap) - gap - 0.8;
  return side * side;
}

/// Stones of four corners, no two alike, each drawn in by half a gap from its neighbours.
double paving(Scene& scene, double gap) {
  constexpr int kStones = 14;
  constexpr double kWide = 0.6;
  Random random(11);
  std::vector<Vec2> grid;
  for (int i = 0; i < (kStones + 1) * (kStones + 1); ++i) {
    const int x = i % (kStones + 1), z = i / (kStones + 1);
    const bool rim = x == 0 || z == 0 || x == kStones || z == kStones;
    grid.push_back(Vec2{x * kWide, -z * kWide} + (rim ? Vec2{0, 0} : Vec2{random.in(-0.15, 0.15), random.in(-0.15, 0.15)}));
  }
  const auto at = [&](int x, int z) { return grid[static_cast<std::size_t>(z * (kStones + 1) + x)]; };
  for (int z = 0; z < kStones; ++z)
    for (int x = 0; x < kStones; ++x) {
      const std::array<Vec2, 4> stone{at(x, z), at(x, z + 1), at(x + 1, z + 1), at(x + 1, z)};  // turning left
      std::array<Vec3, 4> inner;
      for (std::size_t i = 0; i < 4; ++i) {
        const Vec2 p = stone[(i + 3) % 4], q = stone[i], r = stone[(i + 1) % 4];
        const Vec2 u = glm::normalize(q - p), v = glm::normalize(r - q), a = p + leftOf(u) * (gap / 2), b = q + leftOf(v) * (gap / 2);
        inner[i] = lift(a + u * (cross(b - a, v) / cross(u, v)), 0);
      }
      scene.quad(inner[0], inner[1], inner[2], inner[3], "stone");
    }
  const double side = kStones * kWide - gap - 0.8;
  return side * side;
}

using Lay = double (*)(Scene&, double);

/// A platform of boxes beside each other, in rows that are one behind the other or in bond: boards, crates or blocks.
double platform(Scene& scene, Random& random, double top) {
  const double gap = random.upTo(3) == 0 ? random.in(0.0002, 0.002) : random.in(0.0022, 0.045), wide = random.in(0.1, 1.2),
               deep = random.in(0.3, 2.5);
  const double thick = random.upTo(2) == 0 ? top : random.in(0.02, 0.5 * top), bond = random.upTo(2) == 0 ? 0 : random.in(0.2, 0.8);
  const int columns = std::max(3, static_cast<int>(5 / wide)), rows = std::max(2, static_cast<int>(4 / deep));
  const double width = columns * (wide + gap) - gap, depth = rows * (deep + gap) - gap;
  for (int row = 0; row < rows; ++row) {
    const double z = row * (deep + gap), shift = row % 2 ? bond * wide : 0;
    for (int i = shift > 0 ? -1 : 0; i < columns; ++i) {
      const double x0 = std::max(0.0, shift + i * (wide + gap)), x1 = std::min(width, shift + i * (wide + gap) + wide);
      if (x1 > x0 + 0.01) scene.box({x0, top - thick, z}, {x1, top, z + deep});
    }
  }
  return (width - 0.8) * (depth - 0.8);
}

}  // namespace

class TestCracks : public QObject {
  Q_OBJECT

 private slots:
  void piecesAreOneGround_data() {
    QTest::addColumn<int>("laid");
    QTest::addColumn<double>("gap");
    const char* names[] = {"bars", "tiles", "paving"};
    for (int laid = 0; laid < 3; ++laid)
      for (const double gap : {0.0005, 0.001, 0.002, 0.003, 0.01, 0.02, 0.03, 0.045})
        if (laid != 2 || gap < 0.04) QTest::addRow("%s, %.1f mm", names[laid], gap * 1000) << laid << gap;
  }
  void piecesAreOneGround() {
    QFETCH(int, laid);
    QFETCH(double, gap);
    const Lay lay[] = {bars, tiles, paving};
    for (int turn = 0; turn < kTurns; ++turn) {
      Scene scene;
      const double want = lay[laid](scene, gap);
      const auto b = built(scene.turned(0.53 * turn, {turn * 1.7, 0, -turn * 1.0}).world());
      const double area = nav::totalArea(b->mesh);
      const QByteArray found = "turn " + QByteArray::number(turn) + ": " + QByteArray::number(area) + " of " + QByteArray::number(want) +
                               " in " + QByteArray::number(static_cast<qulonglong>(nav::countIslands(b->mesh)));
      QVERIFY2(nav::checkStructure(b->mesh).empty(), found);
      QVERIFY2(nav::countIslands(b->mesh) == 1, found);
      QVERIFY2(std::abs(area - want) < 0.015 * want, found);
      QVERIFY2(b->mesh.faceCount() < 40, QByteArray::number(static_cast<qulonglong>(b->mesh.faceCount())));
    }
  }
  void theFloorBelowDoesNotShowThrough() {
    // Tiles with gaps over a floor: through a gap there is but the floor below.
    for (int turn = 0; turn < 12; ++turn)
      for (const double gap : {0.002, 0.01, 0.03}) {
        Scene scene;
        const double want = tiles(scene, gap);
        for (level::Object& o : scene.objects())
          for (Vec3& v : o.vertices.edit()) v.y = 3;
        scene.floor(-3, -3, 11, 11, 0, "below").turned(kPi * turn / 6 + 0.2, {turn * 3.1, 0, -turn * 2.3});
        const auto b = built(scene.world());
        double upper = 0, lower = 0;
        for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f) {
          const nav::FaceId face{f};
          for (std::size_t i = 0; i < b->mesh.cornerCount(face); ++i) QVERIFY(std::abs(b->mesh.cornerAt(face, i).y - 1.5) > 1.49);
          (b->mesh.cornerAt(face, 0).y > 1 ? upper : lower) += nav::faceArea(b->mesh, face);
        }
        QVERIFY(nav::checkStructure(b->mesh).empty());
        QCOMPARE(nav::countIslands(b->mesh), std::size_t{2});
        QVERIFY2(std::abs(upper - want) < 0.01 * want && std::abs(lower - 13.2 * 13.2) < 0.5, qPrintable(QString::number(upper)));
      }
  }
  void aPlatformOverTheFloorIsWhole() {
    // The floor shows through the gaps, so near below that a body on the platform would not fit between: nothing of it is a wall up there.
    for (unsigned seed = 0; seed < 100; ++seed) {
      Random random(seed);
      Scene scene;
      const double top = random.in(0.5, 2.2), want = platform(scene, random, top);
      const double angle = random.in(0, 6);
      scene.floor(-3, -3, 14, 14, 0, "below").turned(angle, {random.in(-20, 20), 0, random.in(-20, 20)});
      const auto b = built(scene.world());
      double upper = 0;
      for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f)
        if (b->mesh.cornerAt(nav::FaceId{f}, 0).y > top / 2) upper += nav::faceArea(b->mesh, nav::FaceId{f});
      const QByteArray found = "seed " + QByteArray::number(seed) + ": " + QByteArray::number(upper) + " of " + QByteArray::number(want);
      QVERIFY2(nav::checkStructure(b->mesh).empty(), found);
      QVERIFY2(std::abs(upper - want) < 0.01 * want, found);
      QVERIFY2(nav::countIslands(b->mesh) == 2, found);
    }
  }
  void groovesAreClosed() {
    // As before, on a floor so near below that one may step down into the gaps.
    for (unsigned seed = 0; seed < 60; ++seed) {
      Random random(1000 + seed);
      Scene scene;
      const double top = random.in(0.05, 0.38), angle = random.in(0, 6);
      const Vec3 by{random.in(-20, 20), 0, random.in(-20, 20)};
      platform(scene, random, top);
      Box2 rim;
      for (const level::Object& o : scene.objects())
        for (const Vec3& v : o.vertices) rim.add(plan(v));
      scene.floor(-3, -3, 14, 14, 0, "below").turned(angle, by);
      const auto b = built(scene.world());
      QVERIFY(nav::checkStructure(b->mesh).empty() && nav::countIslands(b->mesh) == 1);
      const nav::Locator locator(b->mesh);
      for (int i = 0; i < 400; ++i) {
        const Vec3 p{random.in(rim.min.x + 0.1, rim.max.x - 0.1), top, random.in(-rim.max.y + 0.1, -rim.min.y - 0.1)};
        const Vec3 q = Vec3{std::cos(angle) * p.x + std::sin(angle) * p.z, p.y, -std::sin(angle) * p.x + std::cos(angle) * p.z} + by;
        const nav::Place at = locator.under(q, 1);
        QVERIFY2(at.valid() && std::abs(at.position.y - top) < 0.04,
                 qPrintable(QString("seed %1: %2 at %3, %4").arg(seed).arg(at.position.y).arg(q.x).arg(q.z)));
      }
    }
  }
  void widerGapsStayGaps() {
    for (int turn = 0; turn < kTurns; ++turn) {
      Scene scene;
      scene.floor(0, 0, 4, 4).floor(4.055, 0, 8, 4).turned(0.53 * turn);
      QCOMPARE(nav::countIslands(built(scene.world())->mesh), std::size_t{2});
    }
  }
};

QTEST_APPLESS_MAIN(TestCracks)
#include "cracks.moc"
