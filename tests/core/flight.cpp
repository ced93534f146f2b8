// Free space for bodies that fly, and ways through it, held against closed forms, brute force and laws.

#include <QtTest>
#include <algorithm>

#include "core/flight/changes.h"
#include "core/flight/path.h"
#include "core/flight/room.h"
#include "core/flight/space_parts.h"
#include "core/flight/tighten.h"
#include "core/meshfile/space_file.h"
#include "core/project/file.h"
#include "demo/depot.h"
#include "tests/core/air.h"

using namespace dune;
using flight::Barrier;
using flight::Corners;
using flight::Flyer;
using flight::Searcher;
using flight::Space;
using flight::SpaceInput;
using flight::Way;
using test::boxOf;
using test::chanceFit;
using test::flyer;
using test::Random;
using test::scatter;
using test::Scene;
using test::spaceOf;
using test::wallWithOpening;

namespace {

/// The least distance of the body's ball from all triangles along a way, by looking at each of them: what a body's radius is held against.
double leastDistance(const Space& space, const std::vector<Vec3>& points) {
  double least = 1e9;
  for (std::size_t i = 1; i < points.size(); ++i)
    for (const Barrier& b : space.obstacles().all())
      least =
          std::min(least, std::sqrt(flight::nearestBetween(space.stretched(points[i - 1]), space.stretched(points[i]), b.corner).square));
  return least;
}

/// The length of a thread drawn taut over points, from the first one along x to the last.
double overAll(std::vector<Vec2> points) {
  std::ranges::sort(points, [](const Vec2& a, const Vec2& b) { return a.x != b.x ? a.x < b.x : a.y < b.y; });
  std::vector<Vec2> hull;
  for (const Vec2& p : points) {
    while (hull.size() > 1 && cross(hull.back() - hull[hull.size() - 2], p - hull.back()) >= 0) hull.pop_back();
    hull.push_back(p);
  }
  double length = 0;
  for (std::size_t i = 1; i < hull.size(); ++i) length += glm::distance(hull[i - 1], hull[i]);
  return length;
}

/// No part of cells along walls alone: each of them leads out to what is free.
void everyPartIsNeeded(const Space& space) {
  std::vector<char> needed(space.parts(), 0);
  for (flight::NodeId n = 0; n < space.size(); ++n)
    if (const auto part = space.part(n); part != flight::kNoNode)
      needed[part] |= space.cell(n).kind == flight::Cell::Kind::free || space.cell(n).kind == flight::Cell::Kind::narrow;
  QVERIFY(std::ranges::count(needed, 0) == 0);
}

}  // namespace

class TestFlight : public QObject {
  Q_OBJECT
 private slots:
  void distancesAreThoseOfBruteForce() {
    Random random(4);
    const auto place = [&] { return Vec3(random.in(-2, 2), random.in(-2, 2), random.in(-2, 2)); };
    for (int n = 0; n < 2000; ++n) {
      Corners t{place(), place(), place()};
      if (n % 7 == 0) t[2] = t[0] + (t[1] - t[0]) * random.in(0, 1);  // no area
      if (n % 50 == 0) t[1] = t[2] = t[0];
      const Vec3 a = place(), b = n % 11 == 0 ? a : place();
      double brute = 1e9;
      for (int i = 0; i <= 40; ++i)
        for (int j = 0; i + j <= 40; ++j) {
          const Vec3 q = t[0] + (t[1] - t[0]) * (i / 40.0) + (t[2] - t[0]) * (j / 40.0), way = b - a;
          const double length = glm::dot(way, way), s = length > 0 ? std::clamp(glm::dot(q - a, way) / length, 0.0, 1.0) : 0;
          brute = std::min(brute, glm::distance(q, a + way * s));
        }
      const flight::Meeting m = flight::nearestBetween(a, b, t);
      const double exact = std::sqrt(m.square);
      QVERIFY2(exact <= brute + 1e-9, qPrintable(QString::number(n)));
      QVERIFY2(brute <= exact + 0.12, qPrintable(QString("%1: %2 but %3").arg(n).arg(exact).arg(brute)));  // a step of the grid
      QVERIFY(std::abs(glm::distance(a + (b - a) * m.along, m.on) - exact) < 1e-9);
      QVERIFY(flight::comesNearer(a, b, t, m.square * 1.001 + 1e-12) && !flight::comesNearer(a, b, t, m.square * 0.999));
      QVERIFY(std::abs(glm::distance(flight::nearestOn(t, a), a) - std::sqrt(flight::nearestBetween(a, a, t).square)) < 1e-9);
    }
  }

  void ofWhatIsAsNearTheFirstIsNamed() {
    // Walls and places on a lattice: nearly everything is as near as something else.
    Random random(31);
    std::vector<Barrier> walls;
    for (int n = 0; n < 400; ++n) {
      Vec3 p[3];
      for (Vec3& v : p) v = glm::round(Vec3(random.in(0, 8), random.in(0, 8), random.in(0, 8)));
      walls.push_back({{p[0], p[1], p[2]}});
    }
    const flight::Obstacles obstacles(walls);
    for (int n = 0; n < 3000; ++n) {
      const Vec3 at = glm::round(Vec3(random.in(-6, 30), random.in(-6, 30), random.in(-6, 30))) / 4.0;
      double least = 1e9;
      std::int64_t first = -1;
      for (std::size_t i = 0; i < walls.size(); ++i) {
        const Vec3 way = at - flight::nearestOn(walls[i].corner, at);
        if (const double square = glm::dot(way, way); square < least) least = square, first = static_cast<std::int64_t>(i);
      }
      QCOMPARE(obstacles.nearest(at, 20).barrier, first);
    }
  }

  void aSmallBoxHasRoomWhereABallFits() {
    Random random(77);
    int some = 0, none = 0;
    for (int n = 0; n < 400; ++n) {
      const double radius = random.in(0.2, 0.8), side = radius / 2;
      Box3 box;
      box.min = Vec3(random.in(-1, 1), random.in(-1, 1), random.in(-1, 1)), box.max = box.min + Vec3(side);
      std::vector<Barrier> walls;
      for (int k = 2 + random.upTo(11); k-- > 0;) {
        const double far = random.in(0.8, 1.3) * radius, across = random.in(0.1, 1) * radius;
        const Vec3 away = glm::normalize(Vec3(random.in(-1, 1), random.in(-1, 1), random.in(-1, 1)));
        const auto about = [&] { return box.centre() + away * far + Vec3(random.in(-1, 1), random.in(-1, 1), random.in(-1, 1)) * across; };
        walls.push_back({{about(), about(), about()}});
      }
      const flight::Obstacles obstacles(walls);
      const flight::Volume volume({boxOf(Vec3(-9), Vec3(9))});
      std::vector<std::uint32_t> near;
      obstacles.around(box.centre(), radius + glm::length(box.size()) / 2,
                       [&](std::uint32_t i, const Vec3&) { return near.push_back(i), true; });
      std::ranges::sort(near);
      const auto clearance = [&](const Vec3& p) { return obstacles.nearest(p, 9).distance; };
      const std::optional<Vec3> found = flight::placeIn(box, {&obstacles, &volume, radius}, near);
      if (found) QVERIFY(box.contains(*found) && clearance(*found) >= radius * (1 - 1e-9));
      double most = 0;
      for (int i = 0; i < 16 * 16 * 16; ++i)
        most = std::max(most, clearance(box.min + (Vec3(i % 16, i / 16 % 16, i / 256) + Vec3(0.5)) * (side / 16)));
      // A part of an eighth's width about such a place has a middle that fits.
      if (most > radius + side / 16 * std::sqrt(3.0)) QVERIFY2(found, qPrintable(QString::number(n)));
      ++(found ? some : none);
    }
    QVERIFY2(some >= 50 && none >= 50, qPrintable(QString("%1 %2").arg(some).arg(none)));
  }

  void overAWallTheWayIsTheTautOne() {
    // Over the upper edge of a thin wall that reaches beyond the volume: two tangents and an arc about the edge.
    for (const double half : {0.5, 0.25}) {
      Scene scene;
      scene.box({9.99, -1, -1}, {10.01, 5, 21}, "wall");
      const Box3 volume = boxOf({0, 0, 0}, {20, 10, 20});
      const auto space = spaceOf(scene, flyer(0.5, half), volume);
      const Vec3 from(4, 2, 10), to(16, 2, 10);
      const Way way = Searcher(*space).find({from, to});
      QVERIFY(way.found());
      // The exact one by brute force, of the ellipse over both upper edges: the hull of both ends and finely drawn arcs.
      std::vector<Vec2> points{{4, 2}, {16, 2}};
      for (int i = 0; i <= 4000; ++i)
        for (const double x : {9.99, 10.01}) points.push_back({x + 0.5 * std::cos(kPi * i / 4000), 5 + half * std::sin(kPi * i / 4000)});
      const double exact = overAll(std::move(points));
      QVERIFY2(way.length >= exact - 1e-3 && way.length <= exact * 1.003, qPrintable(QString("%1 but %2").arg(way.length).arg(exact)));
    }
  }

  void aroundOnePostNothingIsSearched() {
    // A post from the bottom of the volume to its top, somewhere on a long way: around it on its better side, as the hull of both ends and
    // of finely drawn arcs about its edges.
    Random random(3);
    for (int n = 0; n < 20; ++n) {
      const double x = random.in(12, 28), z = 10 + random.in(-0.3, 0.3), half = random.in(0.1, 0.4), r = random.in(0.3, 0.6);
      Scene scene;
      scene.box({x - half, -1, z - half}, {x + half, 11, z + half}, "post");
      const auto space = spaceOf(scene, flyer(r, 0.4), boxOf({0, 0, 0}, {40, 10, 20}));
      const Way way = Searcher(*space).find({{2, 5, 10}, {38, 5, 10}});
      QVERIFY(way.found() && way.points.size() > 2);
      QCOMPARE(way.looked, std::size_t{0});
      QVERIFY(leastDistance(*space, way.points) > r - 0.001);
      double exact = std::numeric_limits<double>::infinity();
      for (const double side : {-1.0, 1.0}) {
        std::vector<Vec2> points{{2, 0}, {38, 0}};
        for (int i = 0; i <= 2000; ++i)
          for (const double corner : {x - half, x + half})
            points.push_back({corner + r * std::cos(kPi * i / 2000), side * (z - 10) + half + r * std::sin(kPi * i / 2000)});
        exact = std::min(exact, overAll(std::move(points)));
      }
      QVERIFY2(way.length >= exact - 1e-3 && way.length <= exact * 1.001,
               qPrintable(QString("%1: %2 but %3").arg(n).arg(way.length).arg(exact)));
    }
  }

  void gapsAreNeitherMissedNorMadeUp_data() {
    QTest::addColumn<double>("share");
    QTest::newRow("5 % wider") << 1.05;
    QTest::newRow("2 % wider") << 1.02;
    QTest::newRow("2 % narrower") << 0.98;
    QTest::newRow("5 % narrower") << 0.95;
  }
  void gapsAreNeitherMissedNorMadeUp() {
    QFETCH(double, share);
    Random random(11);
    for (int n = 0; n < 30; ++n) {
      const auto [space, way] = test::throughGap(random, n, share);
      QVERIFY2(way.found() == (share > 1), qPrintable(QString("%1: %2").arg(n).arg(QString::fromStdString(way.why))));
      if (way.found()) QVERIFY(leastDistance(*space, way.points) > space->flyer().radius - 1e-4);
      if (!way.found()) QVERIFY(!way.why.empty() && way.outcome == Way::Outcome::partial);
    }
  }

  void waysAreClearAndShort() {
    // In scenes by chance every way keeps off everything, both ways are alike, and none of many ways over other places is shorter by
    // 2 %, or on average by half of one. In the last scene a search over cells alone passes one box on its longer side, by 3 %.
    double sum = 0, worst = 1;
    int ways = 0;
    for (const std::uint64_t n : {0u, 1u, 2u, 3u, 14u}) {
      Random random(100 + n);
      const Vec3 size(20, 9, 20);
      Scene scene;
      scatter(scene, random, 20, size);
      const Box3 volume = boxOf({0, 0, 0}, size);
      const auto space = spaceOf(scene, flyer(random.in(0.35, 0.8), random.in(0.3, 0.7)), volume);
      everyPartIsNeeded(*space);
      Searcher search(*space);
      for (std::uint64_t k = 0; k < 9; ++k) {
        Random other(n * 1000 + k);
        const Vec3 a = chanceFit(*space, random, volume), b = chanceFit(*space, random, volume);
        const Way way = search.find({a, b}), back = search.find({b, a});
        QCOMPARE(way.found(), back.found());
        if (!way.found()) continue;
        QVERIFY(way.points.front() == a && way.points.back() == b);
        QVERIFY(leastDistance(*space, way.points) > space->flyer().radius - 0.001);
        const double best = std::min({way.length, back.length, test::shortestOver(search, *space, a, b, volume, 8, other)});
        worst = std::max(worst, way.length / best), sum += way.length / best, ++ways;
      }
    }
    QVERIFY(ways >= 20);
    QVERIFY2(sum / ways <= 1.005 && worst <= 1.02, qPrintable(QString("mean %1 worst %2").arg(sum / ways).arg(worst)));
  }

  void everyStretchIsSwept() {
    // Many ways from places of all kinds, most of them hard by something.
    int ways = 0;
    for (int n = 0; n < 4; ++n) {
      Random random(300 + static_cast<std::uint64_t>(n));
      Scene scene;
      scatter(scene, random, 24, {16, 9, 16});
      const Box3 volume = boxOf({0, 0, 0}, {16, 9, 16});
      const Flyer kind = flyer(random.in(0.25, 0.6), random.in(0.2, 0.6));
      const auto space = n % 2 ? spaceOf(scene, kind, test::bentRoom()) : spaceOf(scene, kind, volume);
      Searcher search(*space);
      for (int k = 0; k < 100; ++k) {
        const Way way = search.find({chanceFit(*space, random, volume), chanceFit(*space, random, volume)});
        for (std::size_t i = 1; i < way.points.size(); ++i, ++ways)
          QVERIFY2(space->obstacles().clear(space->stretched(way.points[i - 1]), space->stretched(way.points[i]),
                                            space->flyer().radius * (1 - 1e-5)),
                   qPrintable(QString("scene %1, way %2").arg(n).arg(k)));
        for (std::size_t i = 1; i < way.points.size(); ++i)
          for (double t = 0; t <= 1; t += 0.1) {
            const Vec3 p = glm::mix(way.points[i - 1], way.points[i], t);
            QVERIFY(
                std::ranges::any_of(space->boxes(), [&](const Box3& b) { return glm::distance(p, glm::clamp(p, b.min, b.max)) < 1e-9; }));
          }
      }
    }
    QVERIFY(ways > 500);
  }

  void waysAlongSidesOfCellsAreSeenAsOthers() {
    // From places on the lattice along an axis, or off it by what rounding leaves: cells are left on a side that is never quite passed.
    Random random(77);
    Scene scene;
    for (int i = 0; i < 8; ++i) {
      const Vec3 low = glm::round(Vec3(random.in(0, 20), random.in(0, 6), random.in(0, 20)));
      scene.box(low, low + glm::round(Vec3(random.in(1, 3), random.in(1, 4), random.in(1, 3))), "box " + std::to_string(i));
    }
    const Vec3 size(24, 10, 24);
    const auto space = spaceOf(scene, flyer(0.5, 0.5), boxOf({0, 0, 0}, size));
    const double unit = space->measure().unit();
    int seen = 0, hidden = 0;
    for (int n = 0; n < 3000; ++n) {
      Vec3 a, b;
      for (int i = 0; i < 3; ++i) b[i] = a[i] = std::floor(random.in(0, size[i]) / unit / 4) * unit * 4;
      for (int i = 0; i < 3; ++i) b[i] += random.in(-1, 1) * std::pow(10, random.in(-20, -5));
      const int axis = n % 3;
      b[axis] = random.in(0, size[axis]);
      const bool clear = space->clear(a, b);
      ++(clear ? seen : hidden);
      QVERIFY(!clear || space->obstacles().clear(a, b, space->flyer().radius * (1 - 1e-5)));
      QVERIFY(clear || !space->volume().contains(a, b) || !space->obstacles().clear(a, b, space->flyer().radius * (1 + 1e-5)));
    }
    QVERIFY2(seen > 500 && hidden > 300, qPrintable(QString("%1 seen, %2 hidden").arg(seen).arg(hidden)));
  }

  void solidsAreNoFreeSpaceAndRoomsAre() {
    Scene scene;
    scene.box({2, 0, 2}, {8, 6, 8}, "rock");
    Scene room;
    room.box({12, 0, 2}, {18, 6, 8}, "room").flipped();
    scene.objects().push_back(room.objects()[0]);
    const auto space = spaceOf(scene, flyer(0.5, 0.5), boxOf({0, 0, 0}, {20, 8, 10}));
    const Way in = Searcher(*space).find({{1, 1, 1}, {5, 3, 5}});
    QVERIFY(!in.found() && in.outcome == Way::Outcome::none);
    QVERIFY2(in.why.find("solid") != std::string::npos, in.why.c_str());
    const Way within = Searcher(*space).find({{13, 1, 3}, {17, 5, 7}});
    QVERIFY(within.found());
    const Way out = Searcher(*space).find({{13, 1, 3}, {1, 1, 1}});
    QCOMPARE(out.outcome, Way::Outcome::partial);
  }

  void whatDoesNotFitIsSaid() {
    Scene scene;
    scene.box({4, 0, 4}, {6, 6, 6}, "pillar");
    const auto space = spaceOf(scene, flyer(0.5, 0.4), boxOf({0, 0, 0}, {10, 8, 10}));
    Searcher search(*space);
    const Way near = search.find({{1, 1, 1}, {6.3, 2, 5}});
    QVERIFY2(near.why.find("\"pillar\"") != std::string::npos && near.why.find("0.20 m") != std::string::npos, near.why.c_str());
    QVERIFY(!search.find({{-1, 1, 1}, {1, 2, 5}}).why.empty());
    Flyer bad = flyer(0.5, 0.4);
    bad.leastSpeed = 10;
    QVERIFY(flight::checkFlyer(bad).has_value());
    Job job;
    QVERIFY(!Space::make({flyer(0.5, 0.4), {}, {}, {}}, job));
    QVERIFY(!Space::make({flyer(0.02, 0.02), {boxOf({0, 0, 0}, {10000, 100, 10000})}, {}, {}}, job));
  }

  void emptySpaceIsOneCellAChunk() {
    Scene scene;
    const auto space = spaceOf(scene, flyer(0.5, 0.5), boxOf({0, 0, 0}, {64, 32, 64}));
    QCOMPARE(space->size(), space->chunkCount());
    QVERIFY(std::abs(space->freeVolume() - 64 * 32 * 64) < 1e-6);
    QCOMPARE(space->parts(), std::size_t{1});
  }

  void theSameForAnyThreadsAndPartialRebuilds() {
    Random random(7);
    Scene scene;
    scatter(scene, random, 16, {30, 9, 30});
    const Box3 volume = boxOf({0, 0, 0}, {30, 9, 30});
    const Flyer kind = flyer(0.5, 0.4);
    const auto one = spaceOf(scene, kind, volume, nullptr, 1), two = spaceOf(scene, kind, volume, nullptr, 2);
    const auto same = [](const Space& a, const Space& b) {
      if (a.size() != b.size()) return false;
      for (flight::NodeId n = 0; n < a.size(); ++n)
        if (!(a.cell(n) == b.cell(n)) || a.part(n) != b.part(n) || !std::ranges::equal(a.next(n), b.next(n))) return false;
      return true;
    };
    QVERIFY(same(*one, *two));
    QVERIFY(!same(*one, *spaceOf(Scene(scene).box({3, 0, 3}, {4, 1, 4}), kind, volume)));
    // Wherever a crate comes to stand, and whatever its size.
    for (int n = 0; n < 7; ++n) {
      const Vec3 at(random.in(0, 30), random.in(0, 9), random.in(0, 30)), size(random.in(0.2, 2), random.in(0.2, 2), random.in(0.2, 2));
      Scene moved = scene;
      moved.box(at, at + size, "crate");
      const auto whole = spaceOf(moved, kind, volume), part = spaceOf(moved, kind, volume, one.get());
      QVERIFY2(same(*whole, *part), qPrintable(QString::number(n)));
      QVERIFY2(part->renewed() < whole->renewed() / 2, qPrintable(QString("%1 of %2").arg(part->renewed()).arg(whole->renewed())));
    }
  }

  void editAfterEditIsAsFromNothing() {
    // Things come, go, move, and change their order; each space is made from the one before, and is the same as from nothing.
    Random random(91);
    for (const bool bent : {false, true}) {
      Scene scene;
      scatter(scene, random, 14, {26, 9, 26});
      const std::vector<Box3> volumes = bent ? test::bentRoom() : std::vector{boxOf({0, 0, 0}, {26, 9, 26})};
      const Flyer kind = flyer(0.5, 0.4);
      auto before = spaceOf(scene, kind, volumes);
      for (int n = 0; n < 8; ++n) {
        auto& objects = scene.objects();
        const std::size_t which = random.next() % objects.size();
        switch (n % 4) {
          case 0:
            for (Vec3& p : objects[which].vertices.edit()) p += Vec3(random.in(-2, 2), random.in(-1, 1), random.in(-2, 2));
            break;
          case 1:
            objects.erase(objects.begin() + static_cast<std::ptrdiff_t>(which));
            break;
          case 2:
            scatter(scene, random, 1, {26, 9, 26});
            std::rotate(objects.begin(), objects.end() - 1, objects.end());
            break;
          default:
            std::swap(objects[which], objects[random.next() % objects.size()]);
        }
        const auto whole = spaceOf(scene, kind, volumes), part = spaceOf(scene, kind, volumes, before.get(), 1 + n % 2);
        QVERIFY2(meshfile::spaceToBytes(*whole) == meshfile::spaceToBytes(*part), qPrintable(QString::number(n)));
        before = part;
      }
    }
  }

  void aMovedCrateRenewsLittle() {
    Random random(3);
    Scene scene;
    scatter(scene, random, 40, {48, 12, 48});
    const Box3 volume = boxOf({0, 0, 0}, {48, 12, 48});
    const auto before = spaceOf(scene, flyer(0.5, 0.5), volume);
    QVERIFY(before->renewed() == before->blockCount());
    QVERIFY(spaceOf(scene, flyer(0.5, 0.5), volume, before.get())->renewed() == 0);
    for (int n = 0; n < 3; ++n) {
      const Vec3 at(random.in(0, 47), random.in(0, 11), random.in(0, 47));
      const auto after = spaceOf(Scene(scene).box(at, at + Vec3(1), "crate"), flyer(0.5, 0.5), volume, before.get());
      QVERIFY2(after->renewed() > 0 && after->renewed() * 20 <= after->blockCount(), qPrintable(QString::number(after->renewed())));
    }
    const auto other = spaceOf(scene, flyer(0.6, 0.5), volume, before.get());
    QCOMPARE(other->renewed(), other->blockCount());
  }

  void whatChangedIsWhatIsToldByItsCorners() {
    Random random(8);
    std::vector<Barrier> before;
    for (int i = 0; i < 400; ++i) {
      const Vec3 p(random.in(0, 100), random.in(0, 10), random.in(0, 100));
      before.push_back({{p, p + Vec3(1, 0, 0), p + Vec3(0, 0, 1)}});
    }
    before.push_back(before[7]);  // one of them twice
    const auto touched = [](const flight::Changes& changes, const Barrier& b) { return changes.touch(flight::boxOf(b.corner)); };
    QVERIFY(!flight::Changes(before, before).any());
    std::vector<Barrier> now = before;
    for (Barrier& b : now) b.object += 3, b.solid = 5;
    QVERIFY(!flight::Changes(before, now).any());
    now.erase(now.begin() + 100);                                                        // gone
    now.insert(now.begin(), Barrier{{Vec3(-5, 0, 0), Vec3(-4, 0, 0), Vec3(-5, 0, 1)}});  // came
    std::swap(now[300], now[301]);                                                       // in another order
    now[200].corner[1].y += 1e-12;                                                       // by a hair
    const flight::Changes changes(before, now);
    QVERIFY(touched(changes, before[100]) && touched(changes, now[0]) && touched(changes, now[200]));
    QVERIFY(touched(changes, now[300]) || touched(changes, now[301]));
    int others = 0;
    for (std::size_t i = 0; i < before.size(); ++i) others += touched(changes, before[i]);
    QVERIFY2(others >= 3 && others < 20, qPrintable(QString::number(others)));  // and what lies in the same box by chance
    QVERIFY(!flight::Changes(before, {}).touch(boxOf({0, 50, 0}, {100, 60, 100})) && flight::Changes(before, {}).any());
  }

  void memoryIsKept() {
    Random random(7);
    Scene scene;
    scatter(scene, random, 16, {30, 9, 30});
    Job job;
    const auto input = pipeline::flightInput(scene.world(), flyer(0.5, 0.4), {boxOf({0, 0, 0}, {30, 9, 30})}, job);
    const auto made = Space::make(*input, job);
    QVERIFY(made.ok());
    const std::size_t least = (*made)->size() * sizeof(flight::Cell);
    Job small;
    small.setMemoryLimit(least);
    const auto refused = Space::make(*input, small);
    QVERIFY(!refused.ok());
    QCOMPARE(refused.problem().code, ProblemCode::overLimit);
  }

  void itCanBeCancelledAnywhere() {
    Random random(3);
    Scene scene;
    scatter(scene, random, 6, {12, 8, 12});
    Job job;
    const auto input = pipeline::flightInput(scene.world(), flyer(0.5, 0.5), {boxOf({0, 0, 0}, {12, 8, 12})}, job);
    QVERIFY(input.ok());
    int cancelled = 0;
    for (long check = 0;; ++check) {
      Job stopped;
      stopped.cancelAtCheck(check);
      const auto made = Space::make(*input, stopped);
      if (made) break;
      QCOMPARE(made.problem().code, ProblemCode::cancelled);
      ++cancelled;
    }
    QVERIFY(cancelled > 2);
  }
};

QTEST_APPLESS_MAIN(TestFlight)
#include "flight.moc"
