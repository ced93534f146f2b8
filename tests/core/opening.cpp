// The smallest change that opens a way, against levels where it is known.

#include "core/route/opening.h"

#include <QtTest>

#include "core/links/attach.h"
#include "core/pipeline/opening_cause.h"
#include "core/route/path.h"
#include "tests/core/scenes.h"

using namespace dune;
using route::Opening;
using test::built;
using test::Random;
using test::Scene;

class TestOpening : public QObject {
  Q_OBJECT

  static std::vector<Opening> between(const nav::NavMesh& mesh, const nav::Rules& rules, const Vec3& from, const Vec3& to) {
    const route::Field field(mesh, rules);
    Job job;
    return route::openingsBetween(field, field.locator().nearest(from, 1), field.locator().nearest(to, 1), job);
  }

 private slots:
  void nothingStopsWhoArrives() {
    const auto b = built(Scene().floor(0, 0, 8, 8).world());
    QVERIFY(between(b->mesh, {}, {1, 0, 1}, {7, 0, 7}).empty());
    QVERIFY(between(b->mesh, {}, {1, 0, 1}, {70, 0, 7}).empty());  // no ground there at all
  }
  void theShortestChainOfGaps() {
    // Plates in a row, the gap to the middle one 1 m and 0.5 m, past it 2.5 m: over the middle it is less in all, radius and all.
    Scene scene;
    scene.floor(0, 0, 6, 6).floor(7, 0, 10, 3).floor(10.5, 0, 16, 6);
    const auto b = built(scene.world());
    const auto found = between(b->mesh, {}, {2, 0, 2}, {14, 0, 2});
    QCOMPARE(found.size(), std::size_t{2});
    const double radius = b->mesh.agent.radius;
    QVERIFY(found[0].gap && std::abs(found[0].length - (1 + 2 * radius)) < 0.01);
    QVERIFY(found[1].gap && std::abs(found[1].length - (0.5 + 2 * radius)) < 0.01);
    QVERIFY(std::abs(found[0].from.x - (6 - radius)) < 0.01 && std::abs(found[0].to.x - (7 + radius)) < 0.01);
    // The other way round it is the other way round.
    const auto back = between(b->mesh, {}, {14, 0, 2}, {2, 0, 2});
    QVERIFY(back.size() == 2 && std::abs(back[0].length - found[1].length) < 1e-9 && std::abs(back[1].length - found[0].length) < 1e-9);
    // Too far for anything to open it.
    QVERIFY(between(built(Scene().floor(0, 0, 6, 6).floor(16, 0, 20, 6).world())->mesh, {}, {2, 0, 2}, {18, 0, 2}).empty());
  }
  void linksAreNoGaps() {
    nav::NavMesh mesh = built(Scene().floor(0, 0, 6, 6).floor(9, 0, 15, 6).floor(17, 0, 20, 6).world())->mesh;
    mesh.agent.maxJump = 9;
    const std::vector<links::HandLink> jump{{1, nav::LinkKind::jump, {5.6, 0, 3}, {9.4, 0, 3}, true, 0}};
    mesh.links = links::attach(mesh, nav::Locator(mesh), jump).links;
    QCOMPARE(between(mesh, {}, {2, 0, 2}, {19, 0, 2}).size(), std::size_t{1});
    QCOMPARE(between(mesh, {}, {19, 0, 2}, {2, 0, 2}).size(), std::size_t{2});  // the link is one way
  }
  void theLeastForbiddenGround() {
    // A forbidden belt all across, 1 m wide but at its middle, where it is 4 m.
    level::World world = Scene().floor(0, 0, 20, 12).world();
    world.kinds.push_back({"lava", "#aa0000", 1, 0, true});
    world.volumes.push_back({1, "lava", {{9.5, -13}, {10.5, -13}, {10.5, 1}, {9.5, 1}}, -1, 1});
    world.volumes.push_back({2, "lava", {{8, -8}, {12, -8}, {12, -4}, {8, -4}}, -1, 1});
    const auto b = built(world);
    const auto found = between(b->mesh, b->rules(), {2, 0, 6}, {18, 0, 6});
    QCOMPARE(found.size(), std::size_t{1});
    QVERIFY(!found[0].gap && b->mesh.kinds[found[0].kind].name == "lava");
    QVERIFY2(found[0].length >= 1 - 1e-6 && found[0].length < 1.1, qPrintable(QString::number(found[0].length)));
    const route::Field field(b->mesh, b->rules());
    route::Search search(field);
    auto answer = route::findPath(field, search, Vec3{2, 0, 6}, Vec3{18, 0, 6});
    QVERIFY(answer.openings.empty());  // only who asks pays for it
    Job job;
    route::findOpenings(field, answer, job);
    QVERIFY2(answer.note.find("m of lava at") != std::string::npos, answer.note.c_str());
  }
  void theGapIsTheNearestOfAllBorders() {
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
      Random random(seed);
      Scene scene;
      const double turn = random.in(0, 3);
      scene.floor(0, 0, 5, 5).floor(5 + random.in(0.1, 2), random.in(-3, 3), 12, 5, random.in(0.5, 1.5)).turned(turn);
      const auto b = built(scene.world());
      if (nav::countIslands(b->mesh) != 2) continue;
      const route::Field field(b->mesh, {});
      nav::Place on[2];
      for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f) on[b->mesh.island[f]] = {nav::FaceId{f}, b->mesh.cornerAt(nav::FaceId{f}, 0)};
      Job job;
      const auto found = route::openingsBetween(field, on[0], on[1], job);
      QCOMPARE(found.size(), std::size_t{1});
      // Brute force: places along every edge of the border of one against the ground of the other.
      double least = 1e9;
      for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f)
        for (std::size_t i = 0, n = b->mesh.cornerCount(nav::FaceId{f}); b->mesh.island[f] == 0 && i < n; ++i)
          for (int k = 0; k <= 50; ++k) {
            const Vec3 p = glm::mix(b->mesh.cornerAt(nav::FaceId{f}, i), b->mesh.cornerAt(nav::FaceId{f}, (i + 1) % n), k / 50.0);
            for (std::uint32_t g = 0; g < b->mesh.faceCount(); ++g)
              if (b->mesh.island[g] == 1) least = std::min(least, glm::distance(p, nav::nearestOnFace(b->mesh, nav::FaceId{g}, p)));
          }
      QVERIFY2(found[0].length <= least + 1e-9 && found[0].length > least - 0.1,
               qPrintable(QStringLiteral("seed %1: %2 against %3").arg(seed).arg(found[0].length).arg(least)));
    }
  }
  void whatClosesItIsNamed() {
    // A step of 0.5 m that the agent cannot take, and a wall with a slit that is too narrow.
    const auto causes = [](const Scene& scene, const Vec3& from, const Vec3& to) {
      project::Project p;
      ThreadedJob job;
      const auto ground = pipeline::makeGround(p, scene.world().level, 0, nullptr, job);
      route::Search search(*(*ground)->field);
      auto answer = route::findPath(*(*ground)->field, search, from, to);
      pipeline::Explainer explainer;
      pipeline::explainClosed(explainer, **ground, answer, job);
      return answer.note;
    };
    const std::string step = causes(Scene().floor(0, 0, 6, 6).floor(6, 0, 12, 6, 0.5, "stage"), {2, 0, 3}, {10, 0.5, 3});
    QVERIFY2(step.find("0.50 m") != std::string::npos && step.find("would open it") != std::string::npos, step.c_str());
    const std::string wall = causes(Scene().floor(0, 0, 12, 6).box({5, -1, -1}, {6, 3, 2.7}, "wall").box({5, -1, 3.3}, {6, 3, 7}, "wall 2"),
                                    {2, 0, 3}, {10, 0, 3});
    QVERIFY2(wall.find("wall") != std::string::npos && wall.find("0.3") != std::string::npos, wall.c_str());
  }
};

QTEST_APPLESS_MAIN(TestOpening)
#include "opening.moc"
