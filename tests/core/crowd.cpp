// The crowd: determinism, physical limits, walls, meeting and passing, arrival.

#include <QtTest>

#include "core/crowd/half_planes.h"
#include "core/hand/lay.h"
#include "core/links/attach.h"
#include "core/review/findings.h"
#include "core/system/threads.h"
#include "core/trace/csv.h"
#include "core/trace/trace.h"
#include "tests/core/joined.h"
#include "tests/core/scenes.h"
#include "tests/core/traces.h"

using namespace dune;
using crowd::State;
using crowd::Walker;
using test::built;
using test::Scene;

class TestCrowd : public QObject {
  Q_OBJECT

  static trace::Trace run(const nav::NavMesh& mesh, const std::vector<Walker>& walkers, double seconds, int threads = 0) {
    return test::walked(route::Field(mesh, {}), walkers, seconds, threads);
  }
  static std::vector<Walker> twoRows(int each) {
    std::vector<Walker> walkers;
    for (int i = 0; i < each; ++i) {
      Walker a;
      a.id = i + 1, a.start = {3, 0, 3.0 + i}, a.goal = {17, 0, 3.0 + i};
      Walker b = a;
      b.id = 100 + i, b.start = {17, 0, 3.2 + i}, b.goal = {3, 0, 3.2 + i};
      walkers.push_back(a), walkers.push_back(b);
    }
    return walkers;
  }

 private slots:
  void halfPlanesAgreeWithSampling() {
    for (std::uint64_t seed = 0; seed < 200; ++seed) {
      test::Random random(seed);
      std::vector<crowd::HalfPlane> planes;
      for (int i = 0; i < 5; ++i) {
        const double a = random.in(0, 2 * kPi);
        const Vec2 d{std::cos(a), std::sin(a)};
        planes.push_back({leftOf(d) * random.in(-0.8, 0.1), d});  // all allow the zero velocity or nearly so
      }
      const Vec2 wanted{random.in(-2, 2), random.in(-2, 2)};
      const Vec2 v = crowd::nearestAllowed(planes, 0, wanted, 1.5);
      auto allowed = [&](const Vec2& p, double slack) {
        return glm::length(p) <= 1.5 + slack &&
               std::ranges::all_of(planes, [&](const auto& h) { return cross(h.direction, p - h.point) >= -slack; });
      };
      double best = 1e9;
      for (double x = -1.5; x <= 1.5; x += 0.02)
        for (double y = -1.5; y <= 1.5; y += 0.02)
          if (allowed({x, y}, 0)) best = std::min(best, glm::distance(wanted, {x, y}));
      if (best > 1e8) continue;  // nothing is allowed; another promise
      QVERIFY2(allowed(v, 1e-6), qPrintable(QString::number(seed)));
      QVERIFY2(glm::distance(v, wanted) <= best + 1e-6, qPrintable(QString::number(seed)));
    }
  }
  void aloneOneArrivesAndStaysPut() {
    const auto b = built(Scene().floor(0, 0, 20, 10).world());
    Walker w;
    w.id = 1, w.start = {2, 0, 5}, w.goal = {18, 0, 5};
    const trace::Trace t = run(b->mesh, {w}, 20);
    const trace::Sample end = t.at(t.frameCount() - 1, 0);
    QVERIFY(end.state == State::arrived);
    QVERIFY(glm::distance(end.at, w.goal) <= w.arriveWithin * 2);
    // Once there it does not move again.
    std::size_t arrived = t.frameCount() - 1;
    while (arrived > 0 && t.at(arrived - 1, 0).state == State::arrived) --arrived;
    QVERIFY(glm::distance(t.at(std::min(arrived + 15, t.frameCount() - 1), 0).at, end.at) < 1e-9);
    QVERIFY(t.at(arrived, 0).t < 16 / w.speed + 2);
  }
  /// Slabs by chance, between which a wedge a few millimetres wide is no ground: it ends at a corner of the border that is seen from the
  /// wrong side of it as well, from a pocket.
  void aCornerIsRoundedOnTheSideOfItsWay() {
    Scene scene;
    scene.floor(25.3, 25.3, 37.3, 37.3);
    const std::vector<std::vector<Vec3>> slabs{
        {{27.3625, 0.200789864, 28.690625},
         {26.440625, 0.0898462325, 29.565625},
         {27.20625, 0.257030329, 30.628125},
         {28.1125, 0.391030628, 30.3625},
         {28.3625, 0.392403307, 29.440625}},
        {{31.253125, -0.659570588, 29.8625},
         {26.159375, 0.126344825, 29.8625},
         {26.159375, 1.07789349, 34.95625},
         {31.253125, 0.291978079, 34.95625}},
        {{27.940625, -0.156926356, 36.878125},
         {33.440625, -0.357822052, 36.675},
         {34.55, 0.129472914, 33.01875},
         {28.503125, 0.773031471, 30.346875}},
        {{25.909375, -0.266686896, 25.096875}, {28.503125, 0.941743189, 30.425}, {30.7375, -0.0873522528, 23.003125}},
        {{26.534375, 0.553745257, 31.89375}, {28.565625, 0.314525681, 29.753125}, {24.971875, 0.181317848, 28.378125}}};
    for (const std::vector<Vec3>& slab : slabs) {
      level::Object object;
      object.name = "slab", object.vertices = slab;
      for (std::uint32_t c = 1; c + 1 < slab.size(); ++c) object.triangles.edit().push_back({0, c, c + 1});
      scene.objects().push_back(object);
    }
    const auto b = built(scene.world());
    Walker w;
    w.id = 1, w.start = {27.248933117, 0.218801496, 29.237919771}, w.goal = {30.812286259, 0, 35.11844839};
    const trace::Trace t = run(b->mesh, {w}, 12);
    QVERIFY(t.at(t.frameCount() - 1, 0).state == State::arrived);
  }
  /// A wall without width ends on a corner of the border. Who came to that corner on its wrong side stands on the ground of both sides, but
  /// walks on its own: back out of the pocket and around.
  void outOfAPocketAndAround() {
    for (const double start : {0.3, 0.6, 0.9}) {
      nav::NavMesh mesh;
      mesh.kinds.push_back({});
      for (const Vec2& p : {Vec2{-1, 0}, {1, 0}, {1, 1}, {0, 1}, {-1, 1}, {0, 3}, {-1, 3}, {1, 3}, {1, 5}, {-1, 5}})
        mesh.vertices.push_back(lift(p, 0));
      mesh.corners = {0, 1, 2, 3, 4, 4, 3, 5, 6, 3, 2, 5, 6, 5, 7, 8, 9};
      mesh.start = {0, 5, 9, 12, 17}, mesh.area = {0, 0, 0, 0};
      test::joinFaces(mesh, [](std::uint32_t a, std::uint32_t b) { return a == 3 && b == 5; });
      Walker w;
      w.id = 1, w.start = lift(Vec2(start, 0.2), 0), w.goal = lift(Vec2(0.8, 4), 0);
      const trace::Trace t = run(mesh, {w}, 12);
      QVERIFY2(t.at(t.frameCount() - 1, 0).state == State::arrived, qPrintable(QString::number(start)));
    }
  }
  void accelerationAndSpeedKeepTheirLimits() {
    const auto b = built(Scene().floor(0, 0, 20, 12).box({9, -1, 3}, {10, 3, 12}).world());
    const trace::Trace t = run(b->mesh, twoRows(4), 25);
    for (std::size_t f = 1; f < t.frameCount(); ++f)
      for (std::size_t i = 0; i < t.bodies().size(); ++i) {
        const Vec3 v = t.at(f, i).velocity, u = t.at(f - 1, i).velocity;
        QVERIFY(glm::length(v) <= 1.4 * 1.001);
        // Braking against a wall may be harder than the body's own acceleration; speeding up may not.
        QVERIFY2(glm::length(v) - glm::length(u) <= 4 * t.step() + 0.002, qPrintable(QString::number(glm::length(v) - glm::length(u))));
      }
  }
  void nobodyLeavesTheMesh() {
    const auto b = built(Scene().floor(0, 0, 20, 12).box({9, -1, 3}, {10, 3, 12}).world());
    const trace::Trace t = run(b->mesh, twoRows(5), 30);
    const nav::Locator locator(b->mesh);
    for (const trace::Sample& s : test::samplesOf(t)) QVERIFY(glm::distance(locator.nearest(s.at, 1).position, s.at) < 0.01);
  }
  void twoGroupsPassWithoutOverlap() {
    const auto b = built(Scene().floor(0, 0, 20, 14).world());
    const trace::Trace t = run(b->mesh, twoRows(6), 30);
    double deepest = 0;
    for (std::size_t f = 0; f < t.frameCount(); ++f)
      for (std::size_t i = 0; i < t.bodies().size(); ++i)
        for (std::size_t k = i + 1; k < t.bodies().size(); ++k)
          deepest = std::max(deepest, 0.8 - glm::distance(plan(t.at(f, i).at), plan(t.at(f, k).at)));
    QVERIFY2(deepest <= 0.01 * 0.4 + 0.02, qPrintable(QString::number(deepest)));
    for (std::size_t i = 0; i < t.bodies().size(); ++i) QVERIFY(t.at(t.frameCount() - 1, i).state == State::arrived);
  }
  /// A level of chance: boxes, a ramp to a floor above, ground that is dear or forbidden.
  static level::World chance(std::uint64_t seed) {
    test::Random random(seed);
    Scene scene;
    scene.floor(0, 0, 30, 30).ramp(4, 26, 16, 29, 0, 4).box({16, 3.6, 20}, {28, 4, 29}, "upstairs");
    for (int i = 0; i < 10; ++i) {
      const double x = random.in(1, 26), z = random.in(1, 17);
      scene.box({x, -1, z}, {x + random.in(0.5, 5), 2.5, z + random.in(0.3, 4)}, "box " + std::to_string(i));
    }
    if (seed % 2) scene.turned(random.in(0, 3), {random.in(-500, 500), 0, random.in(-500, 500)});
    level::World world = scene.world();
    if (seed % 2) return world;
    world.kinds.push_back({"mud", "#333333", 3, 1, false}), world.kinds.push_back({"pit", "#333333", 1, 0, true});
    world.volumes.push_back({1, "mud", {{3, -9}, {14, -9}, {14, -5}, {3, -5}}, -1, 1});
    world.volumes.push_back({2, "pit", {{17, -12}, {22, -12}, {22, -8}, {17, -8}}, -1, 1});
    return world;
  }
  void whoeverHasAPathArrives() {
    // Steps once stopped at faces with several edges on one line, and corners with forbidden ground behind them were cut.
    int tried = 0;
    for (std::uint64_t seed = 0; seed < 10; ++seed) {
      const auto b = built(chance(seed));
      const route::Field field(b->mesh, b->rules());
      route::Search search(field);
      test::Random random(seed + 100);
      const auto place = [&] {
        const nav::FaceId f{static_cast<std::uint32_t>(random.upTo(static_cast<int>(b->mesh.faceCount())))};
        Vec3 p{0};
        double sum = 0;
        for (std::size_t c = 0; c < b->mesh.cornerCount(f); ++c) {
          const double w = random.in(0, 1);
          p += b->mesh.cornerAt(f, c) * w, sum += w;
        }
        return nav::nearestOnFace(b->mesh, f, p / sum);
      };
      for (int i = 0; i < 40; ++i) {
        Walker w;
        w.id = 1, w.start = place(), w.goal = place();
        const auto path = route::findPath(field, search, w.start, w.goal, {2, false, false});
        if (path.status != route::PathStatus::complete) continue;
        ++tried;
        const double fair = path.length / w.speed;
        const trace::Trace t = test::walked(field, {w}, 1.2 * fair + 3);
        const trace::Sample end = t.at(t.frameCount() - 1, 0);
        const QString who = QStringLiteral("seed %1 try %2: from %3, %4, %5 to %6, %7, %8, is at %9, %10, %11")
                                .arg(seed)
                                .arg(i)
                                .arg(w.start.x)
                                .arg(w.start.y)
                                .arg(w.start.z)
                                .arg(w.goal.x)
                                .arg(w.goal.y)
                                .arg(w.goal.z)
                                .arg(end.at.x)
                                .arg(end.at.y)
                                .arg(end.at.z);
        QVERIFY2(end.state == State::arrived, qPrintable(who));
        QVERIFY2(glm::distance(end.at, path.goal.used) <= 2 * w.arriveWithin + 0.02, qPrintable(who));
        for (std::size_t f = 0; f < t.frameCount(); ++f) {
          const trace::Sample s = t.at(f, 0);
          QVERIFY2(b->rules().passable(b->mesh, s.face), qPrintable(who));
          QVERIFY2(glm::distance(nav::nearestOnFace(b->mesh, s.face, s.at), s.at) < 1e-3, qPrintable(who));
        }
      }
    }
    QVERIFY2(tried > 200, qPrintable(QString::number(tried)));
  }
  void everyLegOfAPathIsAStraightLineOverTheGround() {
    // Lines that touched the border at a corner and went on along another part of it once ended there: whoever walked there turned back.
    int legs = 0, stuck = 0;
    for (std::uint64_t seed = 0; seed < 60; ++seed) {
      const auto b = built(chance(seed));
      const nav::NavMesh& mesh = b->mesh;
      const route::Field field(mesh, b->rules());
      route::Search search(field);
      test::Random random(seed + 500), hairs(seed + 900);
      const auto corner = [&] {
        const nav::FaceId f{static_cast<std::uint32_t>(random.upTo(static_cast<int>(mesh.faceCount())))};
        return mesh.cornerAt(f, static_cast<std::size_t>(random.upTo(static_cast<int>(mesh.cornerCount(f)))));
      };
      for (int i = 0; i < 500; ++i) {
        const auto path = route::findPath(field, search, corner(), corner(), {2, false, false});
        if (path.status != route::PathStatus::complete) continue;
        for (std::size_t k = 0; k + 1 < path.points.size(); ++k) {
          // Who walks there comes to a corner but for a hair.
          const double hair = i % 2 == 0 ? 0 : 5e-5, way = hairs.in(0, 2 * kPi);
          const Vec3 at = path.points[k] + lift(Vec2{std::cos(way), std::sin(way)} * hair, 0);
          const nav::Place from = field.locator().nearest(at, 0.01);
          if (!field.passable(from.face)) continue;  // the border of forbidden ground
          // Where two grounds touch at a corner, a hair beside it may be on the other one.
          if (mesh.island[index(from.face)] != mesh.island[index(field.locator().nearest(path.points[k], 0.01).face)]) continue;
          const nav::Ray ray = nav::castRay(mesh, from, plan(path.points[k + 1]), &field.rules());
          ++legs;
          const double missing = glm::distance(plan(ray.end.position), plan(path.points[k + 1]));
          const double went = glm::distance(plan(ray.end.position), plan(from.position)),
                       leg = glm::distance(path.points[k], path.points[k + 1]);
          stuck += hair > 0 && missing >= 0.01 && went <= std::min(0.05, leg / 2);
          const bool holds = hair > 0 || missing < 1e-3;
          QVERIFY2(holds, qPrintable(QStringLiteral("seed %1 try %2 leg %3: %4 m short").arg(seed).arg(i).arg(k).arg(missing)));
        }
      }
    }
    QVERIFY(legs > 3000);
    QVERIFY2(stuck <= 10, qPrintable(QString::number(stuck)));
  }
  void noSpeedPassesABorder() {
    // Steps of metres: thin walls and the other storey stay where they are.
    const auto b = built(chance(4));
    const route::Field field(b->mesh, b->rules());
    test::Random random(6);
    for (int i = 0; i < 500; ++i) {
      nav::Place at = field.locator().nearest({random.in(1, 29), 0, random.in(1, 29)}, 3);
      if (!at.valid() || !field.passable(at.face)) continue;
      const std::uint32_t island = b->mesh.island[nav::index(at.face)];
      for (int k = 0; k < 5; ++k) {
        const Vec2 by{random.in(-40, 40), random.in(-40, 40)};
        const nav::Place to = nav::stepBy(b->mesh, at, by, &field.rules());
        QVERIFY(to.valid() && b->mesh.island[nav::index(to.face)] == island && field.passable(to.face));
        QVERIFY(glm::distance(nav::nearestOnFace(b->mesh, to.face, to.position), to.position) < 1e-9);
        QVERIFY(glm::distance(plan(at.position), plan(to.position)) <= glm::length(by) + 1e-6);
        at = to;
      }
    }
  }
  void bodiesThatBeganApartNeverTouch() {
    // Whatever is asked of them: through doors, against each other, on ground of chance. Each takes half the room between them at the most.
    test::Random random(11);
    for (const double width : {1.0, 1.6, 3.0})
      for (const bool both : {false, true}) {
        const auto b = built(
            Scene().floor(0, 0, 20, 10).box({10, -1, -1}, {10.3, 3, 5 - width / 2}).box({10, -1, 5 + width / 2}, {10.3, 3, 11}).world());
        std::vector<Walker> walkers;
        for (int i = 0; i < 24; ++i) {
          Walker w;
          const double x = 1 + (i / 8) * 1.2 + random.in(-0.1, 0.1), z = 1 + (i % 8) * 1.1 + random.in(-0.1, 0.1);
          const bool right = both && i % 2;
          w.id = i + 1, w.start = {right ? 20 - x : x, 0, z}, w.goal = {right ? x : 20 - x, 0, 10 - z};
          walkers.push_back(w);
        }
        const trace::Trace t = run(b->mesh, walkers, 60);
        double nearest = 1e9;
        for (std::size_t f = 0; f < t.frameCount(); ++f)
          for (std::size_t i = 0; i < walkers.size(); ++i)
            for (std::size_t k = i + 1; k < walkers.size(); ++k)
              nearest = std::min(nearest, glm::distance(plan(t.at(f, i).at), plan(t.at(f, k).at)));
        QVERIFY2(nearest >= 0.8 - 1e-4, qPrintable(QStringLiteral("%1 at %2").arg(nearest).arg(width)));  // traces keep floats
      }
  }
  void largeAndSmallBodiesNeverTouchEither() {
    const auto b = built(Scene().floor(0, 0, 30, 30).world());
    test::Random random(5);
    std::vector<Walker> walkers;
    for (int i = 0; i < 25; ++i) {
      Walker w;
      w.id = i + 1, w.radius = i % 5 == 0 ? 1.5 : random.in(0.15, 0.4), w.speed = random.in(0.5, 4);
      w.start = {3.0 + (i % 5) * 5, 0, 3.0 + (i / 5) * 5}, w.goal = {random.in(2, 28), 0, random.in(2, 28)};
      walkers.push_back(w);
    }
    const trace::Trace t = run(b->mesh, walkers, 20);
    double deepest = -1e9;
    for (std::size_t f = 0; f < t.frameCount(); ++f)
      for (std::size_t i = 0; i < walkers.size(); ++i)
        for (std::size_t k = i + 1; k < walkers.size(); ++k)
          deepest = std::max(deepest, walkers[i].radius + walkers[k].radius - glm::distance(plan(t.at(f, i).at), plan(t.at(f, k).at)));
    QVERIFY2(deepest <= 1e-4, qPrintable(QString::number(deepest)));
  }
  void doorsArePassedInTurn() {
    // Forty through a narrow door, and twelve against twelve where only one passes at a time.
    for (const auto& [width, left, right, most] : {std::tuple{1.6, 40, 0, 90.0}, {1.0, 40, 0, 110.0}, {1.6, 12, 12, 80.0}}) {
      const auto b = built(
          Scene().floor(0, 0, 24, 12).box({12, -1, -1}, {12.3, 3, 6 - width / 2}).box({12, -1, 6 + width / 2}, {12.3, 3, 13}).world());
      std::vector<Walker> walkers;
      for (int i = 0; i < left + right; ++i) {
        const int k = i < left ? i : i - left;
        const double x = 9.5 - (k / 8) * 1.1, z = 2 + (k % 8) * 1.1;
        Walker w;
        w.id = i + 1, w.start = {i < left ? x : 24 - x, 0, z};
        w.goal = {i < left ? 22 - (k / 8) * 1.1 : 2 + (k / 8) * 1.1, 0, z};
        walkers.push_back(w);
      }
      const trace::Trace t = run(b->mesh, walkers, most);
      std::size_t through = 0;
      for (std::size_t i = 0; i < walkers.size(); ++i)
        through += (t.at(t.frameCount() - 1, i).at.x > 12.15) == (static_cast<int>(i) < left);
      QVERIFY2(through == walkers.size(), qPrintable(QStringLiteral("%1 of %2 through %3 m").arg(through).arg(walkers.size()).arg(width)));
    }
  }
  void ringsSwapAndHallsEmpty() {
    for (const auto& [count, radius, most] : {std::tuple{16, 8.0, 40.0}, {64, 13.0, 90.0}}) {
      const double side = 2 * radius + 10;
      const auto b = built(Scene().floor(0, 0, side, side).world());
      std::vector<Walker> walkers;
      for (int i = 0; i < count; ++i) {
        const Vec3 out = lift(Vec2{std::cos(2 * kPi * i / count), std::sin(2 * kPi * i / count)} * radius, 0);
        Walker w;
        w.id = i + 1, w.start = Vec3{side / 2, 0, side / 2} + out, w.goal = Vec3{side / 2, 0, side / 2} - out;
        walkers.push_back(w);
      }
      const trace::Trace t = run(b->mesh, walkers, most);
      for (std::size_t i = 0; i < t.bodies().size(); ++i)
        QVERIFY2(t.at(t.frameCount() - 1, i).state == State::arrived, qPrintable(QString::number(count)));
    }
  }
  void whoCannotGetThereHasNotArrived() {
    // Behind a wall, and on the storey above: near is not there.
    const auto b = built(Scene().floor(0, 0, 20, 10).floor(22, 0, 30, 10, 0, "beyond").box({4, 3.8, 2}, {12, 4, 8}, "upstairs").world());
    Walker w;
    w.id = 1, w.start = {2, 0, 5}, w.goal = {24, 0, 5};
    Walker up = w;
    up.id = 2, up.start = {2, 0, 7}, up.goal = {8, 4, 5};
    const trace::Trace t = run(b->mesh, {w, up}, 40);
    for (std::size_t i = 0; i < 2; ++i) QVERIFY(t.at(t.frameCount() - 1, i).state == State::stuck);
    QVERIFY(glm::distance(t.at(t.frameCount() - 1, 0).at, Vec3(19.6, 0, 5)) < 0.3);  // as near as it gets
  }
  void velocitiesAreThoseOfThePlaces() {
    const auto b = built(Scene().floor(0, 0, 20, 12).box({9, -1, 3}, {10, 3, 12}).world());
    const trace::Trace t = run(b->mesh, twoRows(4), 20);
    for (std::size_t f = 1; f < t.frameCount(); ++f)
      for (std::size_t i = 0; i < t.bodies().size(); ++i) {
        const Vec2 moved = plan(t.at(f, i).at) - plan(t.at(f - 1, i).at);
        QVERIFY(glm::distance(moved * 30.0, plan(t.at(f, i).velocity)) < 5e-3);
      }
  }
  void sameBytesOnAnyThreads() {
    const auto b = built(Scene().floor(0, 0, 60, 60).world());
    std::vector<Walker> walkers;
    for (int i = 0; i < 300; ++i) {
      Walker w;
      w.id = i, w.start = {3.0 + i % 18 * 3, 0, 3.0 + i / 18 * 3}, w.goal = {57.0 - i * 7 % 18 * 3, 0, 57.0 - i / 18 * 3};
      walkers.push_back(w);
    }
    const trace::Trace one = run(b->mesh, walkers, 60, 1);
    QCOMPARE(trace::toCsv(one), trace::toCsv(run(b->mesh, walkers, 60, 2)));
    // Bodies that stand and wait must not hide a difference.
    std::size_t arrived = 0;
    for (std::size_t i = 0; i < one.bodies().size(); ++i) arrived += one.at(one.frameCount() - 1, i).state == State::arrived;
    QVERIFY2(arrived > 200, qPrintable(QString::number(arrived)));
  }
  /// Doors and teleports take the time that they say; who takes a teleport stays at its foot and appears at the end.
  void doorsAndTeleportsTakeTheirTime() {
    const auto apart = built(Scene().floor(0, 0, 8, 8).floor(11, 0, 19, 8, 0, "far").world());
    for (const nav::LinkKind kind : {nav::LinkKind::door, nav::LinkKind::teleport})
      for (const double seconds : {0.5, 4.0}) {
        nav::NavMesh m = apart->mesh;
        links::HandLink link{1, kind, {7.5, 0, 4}, {11.5, 0, 4}, false, 0};
        link.seconds = seconds;
        m.links = links::attach(m, nav::Locator(m), {link}).links;
        Walker w;
        w.id = 1, w.start = {4, 0, 4}, w.goal = {15, 0, 4};
        const trace::Trace t = run(m, {w}, 25);
        double on = 0, lastBefore = 0;
        for (std::size_t f = 1; f < t.frameCount(); ++f) {
          const trace::Sample s = t.at(f, 0);
          if (s.state != State::link) continue;
          on += s.t - t.timeOf(f - 1), lastBefore = s.at.x;
        }
        QVERIFY2(std::abs(on - seconds) < 0.1, qPrintable(QString("%1 of %2 s").arg(on).arg(seconds)));
        QVERIFY(kind == nav::LinkKind::teleport ? lastBefore < 7.7 : lastBefore > 10.5);
        QCOMPARE(t.at(t.frameCount() - 1, 0).state, State::arrived);
        QVERIFY(t.at(t.frameCount() - 1, 0).at.x > 14.5);
      }
  }
  /// Straight up from one storey to the next: its ends lie over each other, which makes it no border, whatever its kind.
  void aWayStraightUpTakesItsTime() {
    for (const auto kind : {nav::LinkKind::door, nav::LinkKind::climb}) {
      const auto b = built(Scene().floor(0, 0, 10, 8).floor(5, 0, 15, 8, 3, "upper").world());
      nav::NavMesh m = b->mesh;
      links::HandLink lift{1, kind, {8, 0, 4}, {8, 3, 4}, true, 0};
      lift.seconds = 4;
      m.links = links::attach(m, nav::Locator(m), {lift}).links;
      QCOMPARE(m.links.size(), std::size_t{1});
      QVERIFY(!nav::isOneWayBorder(m.links[0]));
      Walker w;
      w.id = 1, w.start = {2, 0, 4}, w.goal = {12, 3, 4};
      const trace::Trace t = run(m, {w}, 20);
      const auto all = test::samplesOf(t);
      QVERIFY(all.back().state == State::arrived);
      const double on = static_cast<double>(std::ranges::count(all, State::link, &trace::Sample::state)) * t.step();
      QVERIFY2(std::abs(on - 4) < 0.1, qPrintable(QString::number(on)));
    }
  }
  /// Nobody slows down for a border that is crossed one way, and nobody crosses it the other way.
  void aBorderThatIsCrossedOneWayIsNoHindrance() {
    const auto b = built(Scene().floor(0, 0, 30, 12).world());
    hand::Work work;
    work.parts = {{{}, {15, 0, 0.4}, {15, 0, 11.6}, true, {}}};  // from the east to the west
    const hand::Laid laid = hand::lay(b->mesh, work, 1);
    nav::NavMesh m = laid.mesh;
    for (nav::Link l : laid.crossings) l.id = 1 + static_cast<int>(m.links.size()), m.links.push_back(l);
    for (const double z : {2.0, 6.0, 10.0}) {
      Walker w;
      w.id = 1, w.start = {26, 0, 6}, w.goal = {4, 0, z};
      const trace::Trace t = run(m, {w}, 25), free = run(b->mesh, {w}, 25);
      const auto arrives = [](const trace::Trace& trace) {
        const auto all = test::samplesOf(trace);
        const auto first = std::ranges::find(all, State::arrived, &trace::Sample::state);
        return first == all.end() ? INFINITY : first->t;
      };
      QVERIFY2(arrives(t) <= arrives(free) + 0.2, qPrintable(QString("%1 against %2").arg(arrives(t)).arg(arrives(free))));
      for (const trace::Sample& s : test::samplesOf(t))
        if (std::abs(s.at.x - 15) < 3) QVERIFY2(glm::length(s.velocity) > 1.2, qPrintable(QString::number(glm::length(s.velocity))));
      std::swap(w.start, w.goal);
      for (const trace::Sample& s : test::samplesOf(run(m, {w}, 25))) QVERIFY(s.at.x < 15.01);
    }
  }
  void linksAreTaken() {
    auto b = built(Scene().floor(0, 0, 8, 8).floor(11, 0, 19, 8, 0, "far").world());
    nav::NavMesh m = b->mesh;
    m.agent.maxJump = 3;
    m.links = links::attach(m, nav::Locator(m), {{1, nav::LinkKind::jump, {7.6, 0, 4}, {11.4, 0, 4}, false, 0}}).links;
    Walker w;
    w.id = 1, w.start = {2, 0, 4}, w.goal = {17, 0, 4};
    const trace::Trace t = run(m, {w}, 25);
    QVERIFY(t.at(t.frameCount() - 1, 0).state == State::arrived);
    QVERIFY(std::ranges::any_of(test::samplesOf(t), [](const auto& s) { return s.state == State::link; }));
  }
  void aWaypointIsPassedAsEarlyAsTheAgentSays() {
    // Around the end of a wall: how far the first corner of the path is when the body begins to want to go elsewhere.
    const auto b = built(Scene().floor(0, 0, 20, 12).box({9.8, 0, 0}, {10.2, 2, 7}, "wall").world());
    const route::Field field(b->mesh, b->rules());
    route::Search search(field);
    Walker w;
    w.id = 1, w.start = {4, 0, 2}, w.goal = {16, 0, 2};
    const Vec2 corner = plan(route::findPath(field, search, w.start, w.goal).points.at(1));
    for (const double within : {0.02, 0.8, 1.6}) {
      w.passWithin = within;
      const trace::Trace t = run(b->mesh, {w}, 25);
      QVERIFY(t.at(t.frameCount() - 1, 0).state == State::arrived);
      const std::vector<trace::Sample> samples = test::samplesOf(t);
      const auto turned = std::ranges::find_if(samples, [&](const trace::Sample& s) {
        const Vec2 want = plan(s.wanted), to = corner - plan(s.at);
        return glm::length(want) > 0.1 && std::abs(std::atan2(want.x * to.y - want.y * to.x, glm::dot(want, to))) > radians(0.4);
      });
      QVERIFY(turned != samples.end());
      const double distance = glm::distance(plan(turned->at), corner), step = w.speed / 30;
      // A corner also counts as passed when the one after it is in sight, here from half a metre. The body may have gone on for two steps
      // by then: one to come near enough, one until that is recorded.
      const bool exact = distance <= within + 1e-5 && distance >= within - 2 * step - 0.01;
      QVERIFY2(within > 0.5 ? exact : distance < 0.7, qPrintable(QString("%1: %2").arg(within).arg(distance)));
    }
  }
  void senselessScenesAreRefused() {
    const auto b = built(Scene().floor(0, 0, 8, 8).world());
    const route::Field field(b->mesh, b->rules());
    Walker w;
    w.radius = -1;
    QVERIFY(!crowd::Crowd::make(field, {w}, {}));
    w.radius = 0.4;
    QVERIFY(!crowd::Crowd::make(field, {w, w}, {}));  // the same id twice
    crowd::SceneOptions options;
    options.rate = 0;
    QVERIFY(!crowd::Crowd::make(field, {w}, options));
  }
  void cancelStopsTheRun() {
    const auto b = built(Scene().floor(0, 0, 8, 8).world());
    const route::Field field(b->mesh, b->rules());
    ThreadedJob job;
    job.cancelAtCheck(5);
    auto crowd = crowd::Crowd::make(field, twoRows(1), {});
    QVERIFY(crowd.ok());
    trace::Trace trace;
    const auto result = trace::record(crowd.value(), 30, trace, job);
    QVERIFY(!result && result.problem().code == ProblemCode::cancelled);
  }
};

QTEST_APPLESS_MAIN(TestCrowd)
#include "crowd.moc"
