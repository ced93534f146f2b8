// How far everything is, against paths asked one by one.

#include "core/route/distances.h"

#include <QtTest>
#include <numbers>

#include "core/links/attach.h"
#include "core/nav/walk.h"
#include "core/route/path.h"
#include "core/route/search_ground.h"
#include "tests/core/scenes.h"

using namespace dune;
using nav::FaceId;
using route::Distances;
using route::Heading;
using test::built;
using test::Random;
using test::Scene;

class TestDistances : public QObject {
  Q_OBJECT

  static nav::Place anywhere(Random& random, const nav::NavMesh& mesh) {
    const FaceId f{static_cast<std::uint32_t>(random.upTo(static_cast<int>(mesh.faceCount())))};
    const double s = random.in(0, 1), t = random.in(0, 1 - s);
    return {f, mesh.cornerAt(f, 0) * (1 - s - t) + mesh.cornerAt(f, 1) * s + mesh.cornerAt(f, 2) * t};
  }
  static level::World yard(Random& random, bool kinds) {
    Scene scene;
    scene.floor(0, 0, 24, 24).floor(30, 0, 40, 10, 0, "far");
    for (int i = 0; i < 10; ++i) {
      const Vec3 a{random.in(1, 21), -0.5, random.in(1, 21)};
      scene.box(a, a + Vec3{random.in(0.5, 3), 3, random.in(0.5, 3)}, "crate");
    }
    level::World world = scene.world();
    for (std::size_t i = 2; i < world.roles.size(); ++i) world.roles[i] = level::Role::obstacle;
    if (kinds) {
      world.kinds.push_back({"mud", "#333333", 3, 2, false});
      world.kinds.push_back({"paved", "#333333", 0.5, 1, false});
      for (int i = 0; i < 3; ++i) {
        const double x = random.in(1, 18), z = random.in(1, 18), w = random.in(2, 5);
        world.volumes.push_back({i + 1, i % 2 ? "mud" : "paved", {{x, -z - w}, {x + w, -z - w}, {x + w, -z}, {x, -z}}, -1, 1});
      }
    }
    return world;
  }
  static double planCost(const route::Field& field, const std::vector<route::WayPoint>& way) {
    double cost = way.empty() ? std::numeric_limits<double>::infinity() : 0;
    for (std::size_t k = 0; k + 1 < way.size(); ++k) {
      cost += way[k].link >= 0 ? field.costOf(field.mesh().links[static_cast<std::size_t>(way[k].link)])
                               : glm::distance(plan(way[k].at), plan(way[k + 1].at)) * field.perMetre(way[k].face);
      cost += field.entryCost(way[k].face, way[k + 1].face);
    }
    return cost;
  }

 private slots:
  void distancesAreThoseOfPaths() {
    for (std::uint64_t seed = 1; seed <= 16; ++seed) {
      Random random(seed);
      const auto b = built(yard(random, seed % 2 == 0));
      nav::NavMesh mesh = b->mesh;
      mesh.agent.maxJump = mesh.agent.maxDrop = 30;
      const std::vector<links::HandLink> drawn{{1, nav::LinkKind::jump, {20, 0, 3}, {32, 0, 3}, true, 1},
                                               {2, nav::LinkKind::climb, {38, 0, 8}, {5, 0, 20}, false, 3}};
      mesh.links = links::attach(mesh, nav::Locator(mesh), drawn).links;
      const route::Field field(mesh, b->rules());
      route::Search search(field);
      const nav::Place centre = anywhere(random, mesh);
      const double most = random.in(8, 60);
      Job job;
      const Distances from(field, centre, Heading::from, most, job), to(field, centre, Heading::to, most, job);
      QVERIFY(from.complete() && to.complete());
      for (int i = 0; i < 60; ++i) {
        const nav::Place other = anywhere(random, mesh);
        for (const bool back : {false, true}) {
          const double found = back ? to.at(other) : from.at(other);
          const double exact = planCost(field, back ? search.find(other, centre) : search.find(centre, other));
          const double slack = seed % 2 ? 1e-6 : 0.02 * exact + 0.3;  // where costs differ the bends of paths slide
          if (exact > most + slack)
            QVERIFY(!std::isfinite(found));
          else if (exact < most - slack)
            QVERIFY2(std::abs(found - exact) <= slack,
                     qPrintable(QStringLiteral("seed %1: %2 against %3").arg(seed).arg(found).arg(exact)));
        }
      }
    }
  }
  void whoFollowsTheDirectionArrives() {
    Random random(3);
    const auto b = built(yard(random, false));
    const route::Field field(b->mesh, {});
    const nav::Place goal = field.locator().nearest({12, 0, 12}, 5);
    Job job;
    const Distances distances(field, goal, Heading::to, 1000, job);
    for (int i = 0; i < 40; ++i) {
      nav::Place at = anywhere(random, b->mesh);
      if (!field.reaches(at.face, goal.face)) continue;
      double left = distances.at(at);
      for (int step = 0; step < 2000 && left > 0.02; ++step) {
        Vec2 direction;
        (void)distances.at(at, &direction);
        at = nav::stepBy(b->mesh, at, direction * std::min(0.05, left));
        const double now = distances.at(at);
        QVERIFY2(now < left + 1e-6, qPrintable(QStringLiteral("%1 after %2").arg(now).arg(left)));
        left = now;
      }
      QVERIFY(left <= 0.02);
    }
  }
  void ringsOnOpenGroundAreCircles() {
    const auto b = built(Scene().floor(0, 0, 40, 40).world());
    const route::Field field(b->mesh, {});
    Job job;
    const Distances distances(field, field.locator().nearest({20, 0, 20}, 1), Heading::from, 12, job);
    const auto rings = route::ringsOf(field, distances, 5, 0.5, job);
    QCOMPARE(rings.size(), std::size_t{3});
    for (std::size_t i = 0; i < 3; ++i) {
      const double r = i < 2 ? 5.0 * static_cast<double>(i + 1) : 12;
      QCOMPARE(rings[i].distance, r);
      double length = 0;
      for (const auto& [p, q] : rings[i].pieces) {
        length += glm::distance(p, q);
        QVERIFY2(std::abs(glm::distance(plan(p), {20, -20}) - r) < 0.1, qPrintable(QString::number(glm::distance(plan(p), {20, -20}))));
      }
      QVERIFY2(std::abs(rings[i].area / (std::numbers::pi * r * r) - 1) < 0.02, qPrintable(QString::number(rings[i].area)));
      if (i < 2) QVERIFY(std::abs(length / (2 * std::numbers::pi * r) - 1) < 0.03);
    }
  }
  void placesByChanceAreEvenAndReachable() {
    const auto b = built(Scene().floor(0, 0, 20, 20).floor(30, 0, 40, 10, 0, "far").world());
    const route::Field field(b->mesh, {});
    Job job;
    const Distances distances(field, field.locator().nearest({10, 0, 10}, 1), Heading::from, 9, job);
    const auto places = route::randomPlaces(field, distances, 4000, 7);
    QCOMPARE(places.size(), std::size_t{4000});
    int inner = 0;
    for (const nav::Place& p : places) {
      const double r = glm::distance(p.position, Vec3(10, 0, 10));
      QVERIFY(r <= 9 + 1e-9 && nav::coversPlan(b->mesh, p.face, plan(p.position), 1e-9));
      inner += r <= 4.5;
    }
    QVERIFY2(std::abs(inner - 1000) < 120, qPrintable(QString::number(inner)));  // a quarter of the area; four standard deviations
    const auto again = route::randomPlaces(field, distances, 4000, 7);
    QVERIFY(std::ranges::equal(places, again, {}, &nav::Place::position, &nav::Place::position));
    QVERIFY(route::randomPlaces(field, distances, 10, 8)[0].position != places[0].position);
  }
  void itStopsWhenCancelled() {
    Random random(5);
    const auto b = built(yard(random, true));
    const route::Field field(b->mesh, b->rules());
    const nav::Place at = field.locator().nearest({12, 0, 12}, 8);
    for (long check = 1; check < 40; check += 6) {
      Job job;
      job.cancelAtCheck(check);
      QVERIFY(!Distances(field, at, Heading::from, 30, job).complete());
    }
  }
  void nothingAroundNothing() {
    const nav::NavMesh empty;
    const route::Field field(empty, {});
    Job job;
    const Distances none(field, {}, Heading::from, 10, job);
    QVERIFY(!std::isfinite(none.at(nav::Place{})));
    QVERIFY(route::randomPlaces(field, none, 5, 1).empty());
    QCOMPARE(route::ringsOf(field, none, 5, 0.5, job)[0].area, 0.0);
  }
};

QTEST_APPLESS_MAIN(TestDistances)
#include "distances.moc"
