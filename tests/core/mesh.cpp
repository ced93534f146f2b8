// The mesh as a whole: structure, storeys, heights, areas, seeds, cancelling, the same bytes on any number of threads.

#include <QtTest>
#include <set>

#include "bench/surface.h"
#include "core/meshes/mesh_files.h"
#include "core/pipeline/ground.h"
#include "core/route/path.h"
#include "core/system/threads.h"
#include "tests/core/depot.h"
#include "tests/core/scenes.h"

using namespace dune;
using nav::FaceId;
using test::built;
using test::on;
using test::Scene;

class TestMesh : public QObject {
  Q_OBJECT

  static Scene randomScene(std::uint64_t seed) {
    test::Random random(seed);
    Scene scene;
    scene.floor(0, 0, 15, 15);
    for (int i = 0; i < 8; ++i) {
      const Vec3 a{random.in(-1, 13), random.in(-1, 0.2), random.in(-1, 13)};
      scene.box(a, a + Vec3{random.in(0.2, 4), random.in(0.3, 3), random.in(0.2, 4)}, "box " + std::to_string(i));
    }
    scene.ramp(3, 3, 8, 5, 0, random.in(0.5, 3)).turned(random.in(0, 6), {random.in(-20, 20), random.in(-5, 5), random.in(-20, 20)});
    return scene;
  }
  /// At random places of random faces: how far the face is from the level's surface, risers included.
  static double farthestOff(const generate::Built& b, std::uint64_t seed) {
    test::Random random(seed);
    const ground::Soup soup(b.world);
    double worst = 0;
    for (int i = 0; i < 2000; ++i) {
      const FaceId f{static_cast<std::uint32_t>(random.upTo(static_cast<int>(b.mesh.faceCount())))};
      const std::size_t k = 1 + static_cast<std::size_t>(random.upTo(static_cast<int>(b.mesh.cornerCount(f)) - 2));
      double u = random.in(0, 1), v = random.in(0, 1);
      if (u + v > 1) u = 1 - u, v = 1 - v;
      const Vec3 a = b.mesh.cornerAt(f, 0), p = a + (b.mesh.cornerAt(f, k) - a) * u + (b.mesh.cornerAt(f, k + 1) - a) * v;
      worst = std::max(worst, bench::surfaceDistance(soup, p, 0.5));
    }
    return worst;
  }

 private slots:
  void heapsOnOneSpotAreRefusedAndTowersAreNot() {
    // Each triangle of a heap crosses each other one: what they limit grows with the cube of their number, and once never ended.
    test::Random random(4);
    Scene scene;
    scene.floor(0, 0, 20, 20);
    for (int i = 0; i < 400; ++i) {
      const double a = random.in(0, 6), y = random.in(0, 0.5);
      const auto corner = [&](double turn) {
        return Vec3{10 + 0.5 * std::cos(a + turn), y + random.in(0, 0.2), 10 + 0.5 * std::sin(a + turn)};
      };
      const Vec3 p = corner(0), q = corner(2.1), r = corner(4.2);
      scene.quad(p, q, r, r + Vec3{0, 1e-3, 0}, "leaf " + std::to_string(i));
    }
    ThreadedJob job;
    const auto heap = generate::build(scene.world(), {}, job);
    QVERIFY(!heap);
    QVERIFY2(heap.problem().code == ProblemCode::overLimit && heap.problem().where.find("leaf") != std::string::npos,
             heap.problem().text().c_str());
    Scene tower;
    for (int i = 0; i < 100; ++i) tower.floor(0, 0, 6, 6, i * 2.5, "storey " + std::to_string(i));
    const auto built = generate::build(tower.world(), {}, job);
    QVERIFY(built.ok() && std::abs(nav::totalArea((*built)->mesh) - 100 * 5.2 * 5.2) < 1);
  }
  void structureHoldsOnRandomScenes() {
    for (std::uint64_t seed = 0; seed < 40; ++seed) {
      const auto b = built(randomScene(seed).world());
      const auto wrong = nav::checkStructure(b->mesh);
      QVERIFY2(wrong.empty(),
               qPrintable(QStringLiteral("seed %1: %2").arg(seed).arg(wrong.empty() ? QString() : QString::fromStdString(wrong[0]))));
      QVERIFY(b->mesh.faceCount() > 0);
    }
  }
  void sameBytesOnOneAndTwoThreads() {
    for (std::uint64_t seed = 0; seed < 6; ++seed) {
      const level::World world = randomScene(seed).world();
      QCOMPARE(meshfile::toBytes({built(world, {}, 1)->mesh, {}}), meshfile::toBytes({built(world, {}, 2)->mesh, {}}));
    }
  }
  void movedLevelsHaveTheSameArea() {
    const double area = nav::totalArea(built(Scene().floor(0, 0, 9, 7).box({3, -1, 2}, {5, 2, 4}).world())->mesh);
    for (const double angle : {0.1, 0.5, 1.0})
      for (const double far : {0.0, 137.3, 9000.0}) {
        const double moved =
            nav::totalArea(built(Scene().floor(0, 0, 9, 7).box({3, -1, 2}, {5, 2, 4}).turned(angle, {far, 3, -far}).world())->mesh);
        QVERIFY2(std::abs(moved - area) < 0.002 * area, qPrintable(QString::number(moved - area)));
      }
  }
  void windingIsNotTrusted() {
    const level::World world = Scene().floor(0, 0, 9, 7).box({3, -1, 2}, {5, 2, 4}).world(),
                       flipped = Scene().floor(0, 0, 9, 7).flipped().box({3, -1, 2}, {5, 2, 4}).world();
    QCOMPARE(nav::totalArea(built(flipped)->mesh), nav::totalArea(built(world)->mesh));
  }
  void flatRoomIsOneFace() {
    const auto b = built(Scene().floor(0, 0, 10, 10).world());
    QCOMPARE(b->mesh.faceCount(), std::size_t{1});
    QVERIFY(std::abs(nav::totalArea(b->mesh) - 9.2 * 9.2) < 0.02);
  }
  void storeysLieOneAboveTheOther() {
    const auto b =
        built(Scene().floor(0, 0, 20, 20).ramp(2, 9, 7, 11, 0, 2.5).floor(7, 9, 13, 11, 2.5, "deck").ramp(13, 9, 18, 11, 2.5, 0).world());
    QVERIFY(on(b->mesh, {10, 0, 10}).valid());
    QVERIFY(on(b->mesh, {10, 2.5, 10}).valid());
    QCOMPARE(nav::countIslands(b->mesh), std::size_t{1});
    QVERIFY(nav::checkStructure(b->mesh).empty());
  }
  void rampIsFollowedExactly() {
    const auto b = built(Scene().floor(-5, 0, 0, 4).ramp(0, 0, 6, 4, 0, 3).floor(6, 0, 10, 4, 3, "top").world());
    for (double x = 0.1; x < 5.9; x += 0.37) {
      const nav::Place p = on(b->mesh, {x, x / 2, 2});
      QVERIFY(p.valid());
      QVERIFY2(std::abs(p.position.y - x / 2) <= 0.08, qPrintable(QString::number(p.position.y - x / 2)));
    }
  }
  void facesNeitherFloatNorSink() {
    const double ramp = farthestOff(*built(Scene().floor(-5, 0, 0, 4).ramp(0, 0, 6, 4, 0, 3).floor(6, 0, 10, 4, 3, "top").world()), 1);
    QVERIFY2(ramp <= 0.03, qPrintable(QString::number(ramp)));
    // Over a step a face is steep for 5 cm; there it may be off by half the step, elsewhere not at all.
    Scene stairs;
    stairs.floor(-4, 0, 2, 4);
    for (int i = 0; i < 8; ++i) stairs.box({2 + 0.3 * i, -1, 0}, {2 + 0.3 * (i + 1), 0.18 * (i + 1), 4}, "step");
    stairs.box({4.4, -1, 0}, {8, 0.18 * 8, 4}, "top");
    const auto b = built(stairs.world());
    QCOMPARE(nav::countIslands(b->mesh), std::size_t{1});
    for (int i = 0; i < 8; ++i) {
      const double x = 2 + 0.3 * i + 0.15, y = 0.18 * (i + 1);
      const nav::Place p = on(b->mesh, {x, y, 2});
      QVERIFY(p.valid());
      QVERIFY2(std::abs(p.position.y - y) < 0.01, qPrintable(QString::number(p.position.y - y)));
    }
  }
  void topOfACrateIsAnIsland() {
    const auto b = built(Scene().floor(0, 0, 10, 10).box({4, 0, 4}, {6, 1, 6}, "crate").world());
    QCOMPARE(nav::countIslands(b->mesh), std::size_t{2});
    QVERIFY(on(b->mesh, {5, 1, 5}).valid());
    QVERIFY(!on(b->mesh, {5, 0, 5}).valid());
  }
  void seedsKeepOnlyWhatTheyReach() {
    level::World world = Scene().floor(0, 0, 10, 10).floor(20, 0, 25, 10, 0, "other").world();
    QCOMPARE(nav::countIslands(built(world)->mesh), std::size_t{2});
    world.seeds = {{22, 0, 5}};
    const auto b = built(world);
    QCOMPARE(nav::countIslands(b->mesh), std::size_t{1});
    QVERIFY(!on(b->mesh, {5, 0, 5}).valid());
  }
  void groundThatAlmostTouchesIsJoined() {
    level::World near = Scene().floor(0, 0, 5, 5).floor(5.03, 0, 10, 5, 0, "b").world(),
                 far = Scene().floor(0, 0, 5, 5).floor(5.08, 0, 10, 5, 0, "b").world();
    QCOMPARE(nav::countIslands(built(near)->mesh), std::size_t{1});
    QCOMPARE(nav::countIslands(built(far)->mesh), std::size_t{2});
  }
  void areasAreCutExactly() {
    level::World world = Scene().floor(0, 0, 20, 20).world();
    world.kinds.push_back({"mud", "#333333", 4, 0, false});
    world.volumes.push_back({1, "mud", {{5, -9}, {11, -9}, {11, -5}, {5, -5}}, -1, 1});
    world.volumes.push_back({2, "mud", {{2, -2}, {3, -2}, {3, -3}}, 5, 9});  // above the ground: does nothing
    const auto b = built(world);
    double mud = 0;
    for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f)
      if (b->mesh.area[f] == 1) mud += nav::faceArea(b->mesh, FaceId{f});
    QVERIFY(std::abs(mud - 24) < 1e-9);
    QVERIFY(nav::checkStructure(b->mesh).empty());
  }
  void ignoredObjectsAreNotThere() {
    level::World world = Scene().floor(0, 0, 10, 10).box({4, 0, 4}, {6, 3, 6}, "block").world();
    world.roles[1] = level::Role::ignored;
    QVERIFY(on(built(world)->mesh, {5, 0, 5}).valid());
  }
  void emptyWorldGivesAnEmptyMesh() {
    level::World world = Scene().floor(0, 0, 0.5, 0.5).world();
    QCOMPARE(built(world)->mesh.faceCount(), std::size_t{0});
    world.roles[0] = level::Role::ignored;
    QCOMPARE(built(world)->mesh.faceCount(), std::size_t{0});
  }
  void senselessAgentsAreRefused() {
    for (const double radius : {-1.0, 0.0, std::numeric_limits<double>::quiet_NaN()}) {
      nav::Agent agent;
      agent.radius = radius;
      ThreadedJob job;
      const auto result = generate::build(Scene().floor(0, 0, 5, 5).world(), agent, job);
      QVERIFY(!result);
      QVERIFY(result.problem().code == ProblemCode::usage);
    }
  }
  void cancelIsHeardAtEveryCheck() {
    const level::World world = randomScene(3).world();
    for (long n = 1; n < 4000; n = n < 30 ? n + 1 : n * 2) {
      ThreadedJob job;
      job.setThreads(1);
      job.cancelAtCheck(n);
      const auto result = generate::build(world, {}, job);
      if (result) return;  // more checks than the build makes
      QVERIFY(result.problem().code == ProblemCode::cancelled);
    }
  }
  void depotHoldsTogether() {
    ThreadedJob job;
    const auto read = test::depotLevel(job);
    QVERIFY(read.ok());
    const project::Project p = demo::depotProject();
    const auto ground = pipeline::makeGround(p, *read, 0, nullptr, job);
    QVERIFY(ground.ok());
    QVERIFY(nav::checkStructure((*ground)->mesh).empty());
    QCOMPARE((*ground)->mesh.links.size(), std::size_t{3});
    QCOMPARE((*ground)->broken.size(), std::size_t{1});
    const double off = farthestOff(*(*ground)->built, 5);
    QVERIFY2(off <= 0.08, qPrintable(QString::number(off)));
    // The lane under the awning is 0.9 m wide: a porter of 0.35 m fits, one of 0.46 m does not.
    QVERIFY(on((*ground)->mesh, {24, 0, 7.45}).valid());
  }

  /// Without any link by hand: over the gap between the roofs, down from the roof, the dock and the bank of the canal.
  void theDepotsRoofsAndLedgesAreLinkedByABuild() {
    ThreadedJob job;
    const auto read = test::depotLevel(job);
    QVERIFY(read.ok());
    project::Project p = demo::depotProject();
    project::edit(p.links, [](project::LinksSection& s) { s.links.clear(), s.find = true; });
    const auto& agents = p.agents->agents;
    const auto hopper = static_cast<std::size_t>(std::ranges::find(agents, "Hopper", &project::AgentKind::name) - agents.begin());
    const auto ground = pipeline::makeGround(p, *read, hopper, nullptr, job);
    QVERIFY(ground.ok());
    const nav::NavMesh& mesh = (*ground)->mesh;
    QVERIFY(std::ranges::all_of(mesh.links, &nav::Link::generated));
    route::Search search(*(*ground)->field);
    const auto taken = [&](const Vec3& from, const Vec3& to) {
      const auto way = route::findPath(*(*ground)->field, search, from, to);
      std::set<nav::LinkKind> kinds;
      if (way.status != route::PathStatus::complete) return kinds;
      for (const route::LinkUse& use : way.links) kinds.insert(std::ranges::find(mesh.links, use.id, &nav::Link::id)->kind);
      return kinds;
    };
    using enum nav::LinkKind;
    QCOMPARE(taken({8, 3, 33}, {16.4, 2.8, 33}), std::set{jump});
    QCOMPARE(taken({16.4, 2.8, 33}, {16.4, 0, 29}), std::set{drop});
    QCOMPARE(taken({37, 1.2, 38}, {37, 0, 36.5}), std::set{drop});
    QCOMPARE(taken({20, 0, 18.5}, {20, -2.2, 22.5}), std::set{drop});
  }
};

QTEST_APPLESS_MAIN(TestMesh)
#include "mesh.moc"
