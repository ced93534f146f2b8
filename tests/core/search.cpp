// What the search leaves out, and what it may take.

#include <QtTest>

#include "core/links/attach.h"
#include "core/route/path.h"
#include "tests/core/scenes.h"

using namespace dune;
using nav::FaceId;
using test::built;
using test::Random;
using test::Scene;

namespace {

/// Rooms in a row of rows, each with a door to some of its neighbours, some with none.
Scene rooms(Random& random, int n) {
  Scene scene;
  constexpr double kRoom = 4, kWall = 0.2, kDoor = 1.4;
  scene.floor(0, 0, n * kRoom, n * kRoom);
  const auto wall = [&](double along, double at, bool upright) {
    const auto box = [&](double from, double to) {
      if (upright)
        scene.box({at - kWall, -1, from}, {at + kWall, 3, to}, "wall");
      else
        scene.box({from, -1, at - kWall}, {to, 3, at + kWall}, "wall");
    };
    const double door = along + random.in(0.6, kRoom - 0.6 - kDoor);
    const bool open = random.upTo(3) > 0;
    box(along, open ? door : along + kRoom);
    if (open) box(door + kDoor, along + kRoom);
  };
  for (int i = 0; i < n; ++i)
    for (int k = 1; k < n; ++k) wall(i * kRoom, k * kRoom, true), wall(i * kRoom, k * kRoom, false);
  return scene;
}

nav::NavMesh meshOf(const Scene& scene) {
  level::World world = scene.world();
  for (std::size_t i = 1; i < world.roles.size(); ++i) world.roles[i] = level::Role::obstacle;
  return built(world)->mesh;
}

/// A way between two faces over everything but one edge or link.
bool reaches(const nav::NavMesh& mesh, FaceId from, FaceId to, std::size_t without) {
  std::vector<char> seen(mesh.faceCount(), 0);
  std::vector<FaceId> queue{from};
  seen[index(from)] = 1;
  const auto visit = [&](FaceId g) {
    if (g != nav::kNoFace && !seen[index(g)]) seen[index(g)] = 1, queue.push_back(g);
  };
  const auto key = [&](std::uint32_t f, std::size_t i) {  // of an edge, the same from both sides
    const std::uint32_t a = mesh.corners[mesh.start[f] + i], b = mesh.corners[mesh.start[f] + (i + 1) % mesh.cornerCount(FaceId{f})];
    return std::size_t{std::min(a, b)} * mesh.vertices.size() + std::max(a, b);
  };
  for (std::size_t head = 0; head < queue.size(); ++head) {
    const std::uint32_t f = index(queue[head]);
    for (std::size_t i = 0; i < mesh.cornerCount(FaceId{f}); ++i)
      if (key(f, i) != without) visit(mesh.acrossOf(FaceId{f})[i]);
    for (std::size_t l = 0; l < mesh.links.size(); ++l) {
      if (mesh.vertices.size() * mesh.vertices.size() + l == without) continue;
      if (mesh.links[l].fromFace == FaceId{f}) visit(mesh.links[l].toFace);
      if (mesh.links[l].toFace == FaceId{f}) visit(mesh.links[l].fromFace);
    }
  }
  return seen[index(to)] != 0;
}

}  // namespace

class TestSearch : public QObject {
  Q_OBJECT

 private slots:
  void whatLeadsNowhereIsWhatBruteForceSays() {
    int dead = 0, asked = 0;
    for (std::uint64_t seed = 1; seed <= 12; ++seed) {
      Random random(seed);
      nav::NavMesh mesh = meshOf(rooms(random, 4));
      std::vector<links::HandLink> drawn;
      for (int i = 0; i < 4; ++i) {
        links::HandLink link;
        link.id = i + 1, link.from = {random.in(1, 15), 0, random.in(1, 15)}, link.to = {random.in(1, 15), 0, random.in(1, 15)};
        link.oneWay = random.upTo(2) == 0;
        drawn.push_back(link);
      }
      mesh.agent.maxJump = mesh.agent.maxDrop = 30;
      mesh.links = links::attach(mesh, nav::Locator(mesh), drawn).links;
      const route::Layout layout(mesh);
      const route::DeadEnds ends(layout, nav::Rules{});
      const auto ask = [&](FaceId a, FaceId b, std::size_t by) {
        for (std::uint32_t g = 0; g < mesh.faceCount(); g += 3) {
          if (!reaches(mesh, a, FaceId{g}, ~std::size_t{0})) continue;
          const bool wanted = reaches(mesh, b, FaceId{g}, by);
          QCOMPARE(ends.leadsTo(a, b, FaceId{g}), wanted);
          dead += !wanted, ++asked;
          if (QTest::currentTestFailed()) return;
        }
      };
      for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
        for (std::size_t i = 0; i < mesh.cornerCount(FaceId{f}); ++i) {
          const FaceId g = mesh.acrossOf(FaceId{f})[i];
          if (g == nav::kNoFace || QTest::currentTestFailed()) continue;
          const std::uint32_t a = mesh.corners[mesh.start[f] + i], b = mesh.corners[mesh.start[f] + (i + 1) % mesh.cornerCount(FaceId{f})];
          ask(FaceId{f}, g, std::size_t{std::min(a, b)} * mesh.vertices.size() + std::max(a, b));
        }
      for (std::size_t l = 0; l < mesh.links.size(); ++l)
        ask(mesh.links[l].fromFace, mesh.links[l].toFace, mesh.vertices.size() * mesh.vertices.size() + l);
    }
    QVERIFY2(dead > 1000 && asked > 2 * dead, qPrintable(QString::number(dead)));
  }
  void roomsBesideTheWayAreNotLookedAt() {
    // A corridor with thirty rooms, each with a door to it alone.
    Scene scene;
    scene.floor(0, 0, 90, 12);
    scene.box({0, -1, 3}, {0.6, 3, 3.2});
    for (int i = 0; i < 30; ++i) {
      scene.box({i * 3.0 + 1.9, -1, 3}, {i * 3.0 + 3.7, 3, 3.2});
      scene.box({i * 3.0 + 2.9, -1, 3}, {i * 3.0 + 3.1, 3, 12});
    }
    const nav::NavMesh mesh = meshOf(scene);
    const route::Field field(mesh, {});
    route::Search search(field);
    const auto at = [&](double x, double z) { return field.locator().nearest({x, 0, z}, 1); };
    QVERIFY(!search.find(at(0.5, 1), at(88, 1)).empty());
    const std::size_t along = search.nodesMade();
    QVERIFY(!search.find(at(1.3, 8), at(88, 10)).empty());
    QVERIFY(along < mesh.faceCount() / 4);
    QVERIFY2(search.nodesMade() < mesh.faceCount() / 4,
             qPrintable(QStringLiteral("%1 of %2").arg(search.nodesMade()).arg(mesh.faceCount())));
  }
  void memoryIsBounded() {
    Random random(5);
    Scene scene;
    constexpr int kSide = 40;
    scene.floor(0, 0, kSide * 4, kSide * 4);
    for (int i = 0; i < kSide * kSide; ++i) {
      const Vec3 a{i % kSide * 4 + random.in(0, 2), -1, i / kSide * 4 + random.in(0, 2)};
      scene.box(a, a + Vec3{random.in(0.5, 1.8), 4, random.in(0.5, 1.8)});
    }
    const nav::NavMesh mesh = meshOf(scene);
    const route::Field field(mesh, {});
    const std::size_t tables = 20 * mesh.vertices.size(), bound = tables + (std::size_t{220} << 10);
    route::Search whole(field), bounded(field, bound);
    int reached = 0, none = 0;
    for (int i = 0; i < 60; ++i) {
      const Vec3 from{random.in(1, 30), 0, random.in(1, 159)}, to{random.in(130, 159), 0, random.in(1, 159)};
      const auto best = route::findPath(field, whole, from, to, {5, true, false}),
                 found = route::findPath(field, bounded, from, to, {5, true, false});
      QVERIFY(best.status == route::PathStatus::complete);
      none += found.status != route::PathStatus::complete;
      if (found.status != route::PathStatus::complete) continue;
      QVERIFY(!whole.reachedBound() && whole.memory() <= route::Search::kUsualMemory);
      QVERIFY2(bounded.memory() <= bound + (std::size_t{64} << 10), qPrintable(QString::number(bounded.memory())));
      QVERIFY(found.cost >= best.cost - 1e-6);
      if (!bounded.reachedBound()) {
        QVERIFY(std::abs(found.cost - best.cost) < 1e-6);
        continue;
      }
      ++reached;
      // What it says of the best way is true, and it says that this may not be it.
      QVERIFY(bounded.lowerBound() <= best.cost + 1e-6 && found.cost <= found.optimalityBound * bounded.lowerBound() * (1 + 1e-9));
      QVERIFY(found.note.find("before the best way was known") != std::string::npos);
    }
    // What a search before came to says nothing of the next one.
    while (!bounded.reachedBound())
      (void)route::findPath(field, bounded, {random.in(1, 30), 0, random.in(1, 159)}, {random.in(130, 159), 0, random.in(1, 159)}, {5});
    const auto unreachable = route::findPath(field, bounded, {158, 0, 2}, {202, 0, 2}, {5});
    QVERIFY2(unreachable.status == route::PathStatus::partial, unreachable.note.c_str());
    QVERIFY2(unreachable.note.find("no ground within 5.0 m of the goal") != std::string::npos, unreachable.note.c_str());
    QVERIFY2(reached > 10 && none == 0, qPrintable(QStringLiteral("%1 reached it, %2 found nothing").arg(reached).arg(none)));
  }
};

QTEST_APPLESS_MAIN(TestSearch)
#include "search.moc"
