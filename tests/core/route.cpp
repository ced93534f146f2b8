// Paths against exact answers: visibility graphs for one cost, Snell's law and brute force for two, links by arithmetic.

#include <QtTest>
#include <numeric>
#include <set>

#include "core/links/attach.h"
#include "core/pipeline/ground.h"
#include "core/route/path.h"
#include "core/system/threads.h"
#include "tests/core/depot.h"
#include "tests/core/scenes.h"

using namespace dune;
using route::PathStatus;
using test::built;
using test::Scene;

class TestRoute : public QObject {
  Q_OBJECT

  struct Ready {
    std::shared_ptr<const generate::Built> b;
    nav::NavMesh mesh;
    std::unique_ptr<route::Field> field;
    std::unique_ptr<route::Search> search;
    route::PathAnswer path(const Vec3& from, const Vec3& to) const { return route::findPath(*field, *search, from, to); }
  };
  static std::unique_ptr<Ready> ready(const level::World& world, const std::vector<links::HandLink>& drawn = {}) {
    auto r = std::make_unique<Ready>();
    r->b = built(world);
    r->mesh = r->b->mesh;
    r->mesh.agent.maxJump = r->mesh.agent.maxDrop = 20;
    r->mesh.links = links::attach(r->mesh, nav::Locator(r->mesh), drawn).links;
    r->field = std::make_unique<route::Field>(r->mesh, r->b->rules());
    r->search = std::make_unique<route::Search>(*r->field);
    return r;
  }

  /// The shortest path over the corners of the mesh's border, by a visibility graph (all pairs) and Dijkstra: slow and exact.
  static double visibilityLength(const nav::NavMesh& m, const Vec3& from, const Vec3& to) {
    std::vector<Vec2> points{plan(from), plan(to)};
    std::vector<std::pair<Vec2, Vec2>> walls;
    for (std::uint32_t f = 0; f < m.faceCount(); ++f)
      for (std::size_t i = 0; i < m.cornerCount(nav::FaceId{f}); ++i) {
        if (m.acrossOf(nav::FaceId{f})[i] != nav::kNoFace) continue;
        walls.emplace_back(plan(m.cornerAt(nav::FaceId{f}, i)), plan(m.cornerAt(nav::FaceId{f}, (i + 1) % m.cornerCount(nav::FaceId{f}))));
        points.push_back(walls.back().first);
      }
    const nav::Locator locator(m);
    auto sees = [&](const Vec2& a, const Vec2& b) {
      for (const auto& [p, q] : walls) {
        const double d1 = cross(b - a, p - a), d2 = cross(b - a, q - a), d3 = cross(q - p, a - p), d4 = cross(q - p, b - p);
        if (d1 * d2 < -1e-15 && d3 * d4 < -1e-15) return false;
      }
      // A line may run through the outside from corner to corner without crossing a side: looked at along it, and close to its ends.
      const double length = glm::distance(a, b);
      std::vector<double> along{0.01 / length, 0.05 / length, 1 - 0.05 / length, 1 - 0.01 / length};
      for (int i = 1; i < 32; ++i) along.push_back(i / 32.0);
      for (const double t : along)
        if (t > 0 && t < 1 && !locator.nearest(lift(glm::mix(a, b, t), 0), 2e-4).valid()) return false;
      return true;
    };
    std::vector<double> best(points.size(), 1e300);
    std::vector<char> done(points.size(), 0);
    best[0] = 0;
    for (;;) {
      std::size_t at = points.size();
      for (std::size_t i = 0; i < points.size(); ++i)
        if (!done[i] && best[i] < 1e299 && (at == points.size() || best[i] < best[at])) at = i;
      if (at == points.size() || at == 1) return best[1];
      done[at] = 1;
      for (std::size_t i = 0; i < points.size(); ++i)
        if (!done[i] && best[at] + glm::distance(points[at], points[i]) < best[i] && sees(points[at], points[i]))
          best[i] = best[at] + glm::distance(points[at], points[i]);
    }
  }

 private slots:
  void straightLineInTheOpen() {
    const auto r = ready(Scene().floor(0, 0, 10, 10).world());
    const auto a = r->path({1, 0, 1}, {9, 0, 7});
    QVERIFY(a.status == PathStatus::complete);
    QCOMPARE(a.length, 10.0);
    QCOMPARE(a.points.size(), std::size_t{2});
    QCOMPARE(a.optimalityBound, 1.0);
  }
  void theWorkFollowsTheGroundAndNotTheWaysAroundIt() {
    // A wall to be walked around among ever more pillars: every face was once looked at for each of the many ways around them.
    for (const int n : {6, 12, 24}) {
      test::Random random(2);
      Scene scene;
      const double side = 4.0 * n + 4;
      scene.floor(0, 0, side, side);
      for (int i = 0; i < n; ++i)
        for (int k = 0; k < n; ++k) {
          const Vec3 a{2 + i * 4.0 + random.in(0, 2), -1, 2 + k * 4.0 + random.in(0, 2)};
          scene.box(a, a + Vec3{random.in(0.5, 1.8), 4, random.in(0.5, 1.8)});
        }
      scene.box({2, -1, side / 2 - 0.8}, {side + 1, 4, side / 2 - 0.4});
      level::World world = scene.world();
      for (std::size_t i = 1; i < world.roles.size(); ++i) world.roles[i] = level::Role::obstacle;
      const auto r = ready(world);
      for (int k = 0; k < 10; ++k) {
        const nav::Place p = r->field->locator().nearest({side - 2, 0, random.in(0.5, side / 2 - 2)}, 5),
                         q = r->field->locator().nearest({side - 2, 0, random.in(side / 2 + 1, side - 1)}, 5);
        QVERIFY(!r->search->find(p, q).empty());
        const double each = static_cast<double>(r->search->nodesMade()) / static_cast<double>(r->mesh.faceCount());
        QVERIFY2(each < 5, qPrintable(QStringLiteral("%1 pillars: %2 views a face").arg(n * n).arg(each)));
      }
    }
  }
  void shortestAgainstAVisibilityGraph() {
    for (std::uint64_t seed = 0; seed < 10; ++seed) {
      test::Random random(seed);
      Scene scene;
      scene.floor(0, 0, 16, 16);
      for (int i = 0; i < 6; ++i) {
        const Vec3 a{random.in(1, 13), -0.5, random.in(1, 13)};
        scene.box(a, a + Vec3{random.in(0.5, 3), 3, random.in(0.5, 3)});
      }
      level::World world = scene.world();
      for (std::size_t i = 1; i < world.roles.size(); ++i) world.roles[i] = level::Role::obstacle;
      const auto r = ready(world);
      for (int k = 0; k < 4; ++k) {
        const nav::Place p = r->field->locator().nearest({random.in(0.5, 15.5), 0, random.in(0.5, 15.5)}, 5),
                         q = r->field->locator().nearest({random.in(0.5, 15.5), 0, random.in(0.5, 15.5)}, 5);
        const auto a = r->path(p.position, q.position);
        if (a.status != PathStatus::complete) continue;
        const double exact = visibilityLength(r->mesh, p.position, q.position);
        QVERIFY2(std::abs(a.length - exact) <= 1e-6 * std::max(1.0, exact),
                 qPrintable(QStringLiteral("seed %1: %2 against %3").arg(seed).arg(a.length, 0, 'f', 9).arg(exact, 0, 'f', 9)));
      }
    }
  }
  void wayBackIsAsLong() {
    const auto r = ready(Scene().floor(0, 0, 12, 12).box({4, -1, 3}, {6, 3, 9}).box({8, -1, 1}, {9, 3, 8}).world());
    QVERIFY(std::abs(r->path({1, 0, 6}, {11, 0, 5}).length - r->path({11, 0, 5}, {1, 0, 6}).length) < 1e-9);
  }
  void dearGroundIsCrossedOrAvoidedByCost() {
    level::World world = Scene().floor(0, 0, 20, 20).world();
    world.kinds.push_back({"mud", "#333333", 3, 0, false});
    world.volumes.push_back({1, "mud", {{8, -12}, {12, -12}, {12, -8}, {8, -8}}, -1, 1});
    const auto r = ready(world);
    // Straight through costs 16 + 2 × 4 = 24 for 16 m; round a corner of the square is cheaper.
    const double round = 2 * std::hypot(6, 2) + 4;
    const auto a = r->path({2, 0, 10}, {18, 0, 10});
    QVERIFY2(std::abs(a.cost - round) < 1e-3, qPrintable(QString::number(a.cost, 'f', 6)));
    // Barely dear mud is crossed.
    world.kinds[1].cost = 1.05;
    const auto through = ready(world)->path({2, 0, 10}, {18, 0, 10});
    QVERIFY(std::abs(through.cost - (12 + 4 * 1.05)) < 0.01);
  }
  void costBetweenTwoHalvesFollowsSnell() {
    // Ground of cost 1 and 2 meet at x = 10: the best crossing, by golden section, against the search and its stated bound.
    level::World world = Scene().floor(0, 0, 20, 20).world();
    world.kinds.push_back({"mud", "#333333", 2, 0, false});
    world.volumes.push_back({1, "mud", {{10, -25}, {25, -25}, {25, 5}, {10, 5}}, -1, 1});
    const auto r = ready(world);
    for (const double z : {4.0, 9.0, 17.0}) {
      const Vec2 a{2, 3}, b{18, z};
      double low = 0.4, high = 19.6;
      auto cost = [&](double y) { return glm::distance(a, {10, y}) + 2 * glm::distance(b, {10, y}); };
      for (int i = 0; i < 200; ++i) {
        const double x = low + (high - low) * 0.382, y = low + (high - low) * 0.618;
        if (cost(x) < cost(y))
          high = y;
        else
          low = x;
      }
      const auto p = r->path({a.x, 0, a.y}, {b.x, 0, b.y});
      const double exact = cost(low);
      QVERIFY(p.cost >= exact - 1e-6);
      QVERIFY2(p.cost <= exact * 1.002, qPrintable(QString::number(p.cost / exact, 'f', 6)));
      QVERIFY(p.cost <= exact * p.optimalityBound);
    }
  }
  /// Cheapest of the ways from knot to knot of a grid, 16 directions from each: none can be cheaper than the best way.
  static double overAGrid(const Ready& r, const Vec2& from, const Vec2& to, int side, double step) {
    const int metres = static_cast<int>(side * step);
    std::vector<double> costs;  // one a square metre; all areas end on whole metres
    for (int z = 0; z < metres; ++z)
      for (int x = 0; x < metres; ++x) costs.push_back(r.field->perMetre(r.field->locator().nearest({x + 0.5, 0, z + 0.5}, 1).face));
    const auto costAt = [&](double x, double z) {
      return costs[static_cast<std::size_t>(static_cast<int>(z) * metres + static_cast<int>(x))];
    };
    const auto number = [&](int x, int z) { return static_cast<std::size_t>(z * side + x); };
    std::vector<double> best(number(side - 1, side - 1) + 1, 1e9);
    std::set<std::pair<double, std::size_t>> open;
    const auto knot = [&](const Vec2& p) {
      return number(static_cast<int>(std::lround(p.x / step)), static_cast<int>(std::lround(p.y / step)));
    };
    best[knot(from)] = 0;
    open.insert({0, knot(from)});
    while (!open.empty()) {
      const auto [g, at] = *open.begin();
      open.erase(open.begin());
      if (at == knot(to)) return g;
      const int x = static_cast<int>(at) % side, z = static_cast<int>(at) / side;
      for (int dx = -2; dx <= 2; ++dx)
        for (int dz = -2; dz <= 2; ++dz) {
          if (std::gcd(dx, dz) != 1 || x + dx < 1 || z + dz < 1 || x + dx > side - 2 || z + dz > side - 2) continue;
          constexpr int kParts = 16;
          double mean = 0;
          for (int k = 0; k < kParts; ++k)
            mean += costAt((x + dx * (k + 0.5) / kParts) * step, (z + dz * (k + 0.5) / kParts) * step) / kParts;
          const double next = g + mean * std::hypot(dx, dz) * step;
          double& known = best[number(x + dx, z + dz)];
          if (next >= known) continue;
          known = next;
          open.insert({next, number(x + dx, z + dz)});
        }
    }
    return 1e9;
  }
  void cheapGroundIsFoundWhereverItLies() {
    constexpr int kSide = 25;
    for (std::uint64_t seed = 0; seed < 12; ++seed) {
      test::Random random(seed);
      level::World world = Scene().floor(0, 0, kSide - 1, kSide - 1).world();
      world.kinds.push_back({"paved", "#333333", 0.5, 0, false});
      world.kinds.push_back({"mud", "#333333", 3, 0, false});
      world.kinds.push_back({"boards", "#333333", seed % 2 == 0 ? 1 : 0.8, 0, false});
      for (int i = 0; i < 4; ++i) {
        const double x = std::round(random.in(1, 18)), z = std::round(random.in(1, 18)), w = std::round(random.in(1, 12)), d = 1;
        const bool across = i % 2 == 0;
        const double x1 = std::min(x + (across ? w : d), 23.0), z1 = std::min(z + (across ? d : w), 23.0);
        world.volumes.push_back(
            {i + 1, world.kinds[1 + static_cast<std::size_t>(i % 3)].name, {{x, -z1}, {x1, -z1}, {x1, -z}, {x, -z}}, -1, 1});
      }
      const auto r = ready(world);
      for (int k = 0; k < 4; ++k) {
        const Vec2 a{std::round(random.in(1, 23)), std::round(random.in(1, 23))},
            b{std::round(random.in(1, 23)), std::round(random.in(1, 23))};
        const auto p = r->path({a.x, 0, a.y}, {b.x, 0, b.y});
        const double grid = overAGrid(*r, a, b, 2 * kSide - 1, 0.5);
        QVERIFY2(p.cost <= grid * 1.003 + 1e-6 && p.cost > grid * 0.9,
                 qPrintable(QStringLiteral("seed %1: %2 against %3").arg(seed).arg(p.cost, 0, 'f', 6).arg(grid, 0, 'f', 6)));
        QVERIFY(p.cost <= grid * p.optimalityBound + 1e-6);
      }
    }
  }
  /// A yard with crates and areas of any form, slivers too, dear and cheap ones.
  static level::World manyCosts(test::Random& random) {
    Scene scene;
    scene.floor(0, 0, 40, 40);
    for (int i = random.upTo(8); i > 0; --i) {
      const Vec3 a{random.in(1, 36), -0.5, random.in(1, 36)};
      scene.box(a, a + Vec3{random.in(0.5, 6), 3, random.in(0.5, 6)}, "crate");
    }
    level::World world = scene.world();
    for (std::size_t i = 1; i < world.roles.size(); ++i) world.roles[i] = level::Role::obstacle;
    const double entry = random.upTo(3) == 0 ? random.in(0, 3) : 0;
    world.kinds.push_back({"mud", "#333333", random.in(1.2, 8), entry, false});
    world.kinds.push_back({"paved", "#333333", random.in(0.3, 1), 0, false});
    world.kinds.push_back({"grass", "#333333", random.in(1.05, 2), 0, false});
    for (int i = random.upTo(6); i >= 0; --i) {
      const Vec2 middle{random.in(3, 37), -random.in(3, 37)};
      const double turn = random.in(0, 6.28), radius = random.in(1, 6);
      const int corners = 4 + random.upTo(14), form = random.upTo(3);
      std::vector<Vec2> outline;
      for (int k = 0; k < corners; ++k) {
        const double a = turn + 2 * kPi * k / corners, out = radius * (form == 0 ? 1 : random.in(0.4, 1));
        const Vec2 p{std::cos(a) * out, std::sin(a) * out * (form == 1 ? 0.1 : 1)};
        outline.push_back(middle + Vec2{p.x * std::cos(turn) - p.y * std::sin(turn), p.x * std::sin(turn) + p.y * std::cos(turn)});
      }
      world.volumes.push_back({i + 1, world.kinds[1 + static_cast<std::size_t>(random.upTo(3))].name, outline, -1, 1});
    }
    return world;
  }
  /// No way that is found with bends much closer to each other is below what was stated; and what was stated is near.
  void whatIsStatedIsTrueAndNear() {
    double sum = 0, worst = 1;
    int asked = 0;
    for (std::uint64_t seed = 1; seed <= 16; ++seed) {
      test::Random random(seed);
      const auto b = test::built(manyCosts(random));
      const route::Field usual(b->mesh, b->rules()), fine(b->mesh, b->rules(), 0.03);
      route::Search search(usual), finer(fine);
      for (int k = 0; k < 12; ++k) {
        const Vec3 from{random.in(1, 39), 0, random.in(1, 39)}, to{random.in(1, 39), 0, random.in(1, 39)};
        const auto found = route::findPath(usual, search, from, to, {3, true, false}),
                   best = route::findPath(fine, finer, from, to, {3, true, false});
        QCOMPARE(found.status, best.status);
        if (found.status != route::PathStatus::complete || found.straight < 1) continue;
        QVERIFY2(found.cost <= best.cost * found.optimalityBound * (1 + 1e-9), qPrintable(QStringLiteral("seed %1, %2").arg(seed).arg(k)));
        QVERIFY(best.optimalityBound <= found.optimalityBound + 1e-9 || best.cost < found.cost);
        sum += found.optimalityBound, ++asked, worst = std::max(worst, found.cost / best.cost);
      }
    }
    QVERIFY2(asked > 100 && sum / asked < 1.003 && worst < 1.001,
             qPrintable(QStringLiteral("%1 asked, stated %2 on average, %3 at the worst").arg(asked).arg(sum / asked).arg(worst)));
  }
  /// A gap that only one of the points sees where the way may bend is found however far apart they are.
  void narrowGapsBehindAnEdgeBetweenCostsAreFound() {
    ThreadedJob job;
    const auto level = test::depotLevel(job);
    QVERIFY(level.ok());
    const project::Project project = demo::depotProject();
    const auto b = *generate::build(pipeline::makeWorld(project, *level, 0), project.agents->agents[0], job);
    const route::Field fine(b->mesh, b->rules(), 0.05), coarse(b->mesh, b->rules(), 0.25);
    route::Search finer(fine), search(coarse);
    test::Random random(777);
    int asked = 0;
    for (int k = 0; k < 250; ++k) {
      const Vec3 from{random.in(0, 60), 0, random.in(0, 44)}, to{random.in(0, 60), 0, random.in(0, 44)};
      const auto best = route::findPath(fine, finer, from, to, {1, true, false}),
                 found = route::findPath(coarse, search, from, to, {1, true, false});
      if (best.status != PathStatus::complete) continue;
      ++asked;
      QVERIFY2(found.cost <= best.cost * 1.008, qPrintable(QStringLiteral("way %1: %2 against %3").arg(k).arg(found.cost).arg(best.cost)));
      QVERIFY(found.cost <= best.cost * found.optimalityBound * (1 + 1e-9));
    }
    QVERIFY(asked > 100);
  }
  /// Over a straight edge a way goes as light would.
  void waysBendAsLightDoes() {
    for (const double dear : {1.3, 3.0, 9.0}) {
      level::World world = Scene().floor(0, 0, 30, 20).world();
      world.kinds.push_back({"mud", "#333333", dear, 0, false});
      world.volumes.push_back({1, "mud", {{15, -20}, {30, -20}, {30, 0}, {15, 0}}, -1, 1});
      const auto r = ready(world);
      test::Random random(4);
      for (int k = 0; k < 20; ++k) {
        const Vec2 a{random.in(1, 14), random.in(1, 19)}, b{random.in(16, 29), random.in(1, 19)};
        const auto cost = [&](double z) { return glm::distance(a, Vec2{15, z}) + dear * glm::distance(Vec2{15, z}, b); };
        double low = 0.4, high = 19.6;  // convex: the best place by thirds
        for (int i = 0; i < 200; ++i) {
          const double first = low + (high - low) / 3, second = high - (high - low) / 3;
          (cost(first) < cost(second) ? high : low) = cost(first) < cost(second) ? second : first;
        }
        const double found = r->path({a.x, 0, a.y}, {b.x, 0, b.y}).cost;
        QVERIFY2(std::abs(found - cost(low)) < 1e-6 * found, qPrintable(QStringLiteral("%1 against %2").arg(found).arg(cost(low))));
      }
    }
  }
  /// With four times as many places to bend at, a few times the work; sixteen times where each was tried with each.
  void theWorkFollowsThePlacesAndNotTheirSquare() {
    double made[2] = {0, 0};
    for (std::uint64_t seed = 1; seed <= 6; ++seed) {
      test::Random random(seed);
      const auto b = test::built(manyCosts(random));
      const route::Field coarse(b->mesh, b->rules(), 0.2), fine(b->mesh, b->rules(), 0.05);
      route::Search searches[] = {route::Search(coarse), route::Search(fine)};
      for (int k = 0; k < 12; ++k) {
        const nav::Place from = coarse.locator().nearest({random.in(1, 39), 0, random.in(1, 39)}, 5),
                         to = coarse.locator().nearest({random.in(1, 39), 0, random.in(1, 39)}, 5);
        for (const std::size_t i : {0u, 1u})
          if (!searches[i].find(from, to).empty()) made[i] += static_cast<double>(searches[i].nodesMade());
      }
    }
    QVERIFY2(made[0] > 0 && made[1] < 6 * made[0], qPrintable(QStringLiteral("%1 and %2").arg(made[0]).arg(made[1])));
  }
  void everyCornerIsAStart() {
    // From an inner corner of the mesh the search once went around that corner for ever.
    for (std::uint64_t seed = 0; seed < 6; ++seed) {
      test::Random random(seed);
      Scene scene;
      scene.floor(0, 0, 30, 30);
      for (int i = 0; i < 6; ++i) {
        const double x = std::round(random.in(2, 24)), z = std::round(random.in(2, 24));
        scene.box({x, -1, z}, {x + std::round(random.in(1, 6)), 2, z + std::round(random.in(1, 6))});
      }
      level::World world = scene.world();
      world.kinds.push_back({"plain", "#333333", 1, 0, false});  // another kind, but no other cost
      world.volumes.push_back({1, "plain", {{5, -25}, {21, -25}, {21, -7}, {5, -7}}, -1, 1});
      const auto r = ready(world);
      int asked = 0;
      for (std::uint32_t f = 0; f < r->mesh.faceCount(); ++f)
        for (std::size_t c = 0; c < r->mesh.cornerCount(nav::FaceId{f}); ++c) {
          if (r->mesh.island[f] != 0 || random.upTo(3) > 0) continue;
          const nav::Place from{nav::FaceId{f}, r->mesh.cornerAt(nav::FaceId{f}, c)};
          const nav::Place to = r->field->locator().nearest({random.in(1, 29), 0, random.in(1, 29)}, 30);
          if (!r->field->reaches(from.face, to.face)) continue;
          const auto way = r->search->find(from, to);
          QVERIFY2(!way.empty(), qPrintable(QStringLiteral("seed %1 face %2").arg(seed).arg(f)));
          double length = 0;
          for (std::size_t k = 0; k + 1 < way.size(); ++k) length += glm::distance(way[k].at, way[k + 1].at);
          QVERIFY2(std::abs(length - visibilityLength(r->mesh, from.position, to.position)) < 1e-6 * length + 1e-9,
                   qPrintable(QStringLiteral("seed %1 face %2: %3").arg(seed).arg(f).arg(length)));
          QVERIFY(r->search->nodesMade() < 20000);
          ++asked;
        }
      QVERIFY(asked > 20);
    }
  }
  void forbiddenGroundIsNeverTouched() {
    level::World world = Scene().floor(0, 0, 20, 20).world();
    world.kinds.push_back({"pit", "#333333", 1, 0, true});
    world.volumes.push_back({1, "pit", {{8, -16}, {12, -16}, {12, 5}, {8, 5}}, -1, 1});
    const auto r = ready(world);
    const auto a = r->path({2, 0, 2}, {18, 0, 2});
    QVERIFY(a.status == PathStatus::complete);
    QVERIFY(std::abs(a.length - (2 * std::hypot(6, 14) + 4)) < 0.01);
    const auto into = r->path({2, 0, 2}, {10, 0, 10});
    QVERIFY(into.status == PathStatus::partial);
    QVERIFY(into.note.find("forbidden") != std::string::npos);
  }
  void entryCostIsPaidOnce() {
    level::World world = Scene().floor(0, 0, 20, 6).world();
    world.kinds.push_back({"ditch", "#333333", 1, 5, false});
    world.volumes.push_back({1, "ditch", {{9, -10}, {11, -10}, {11, 5}, {9, 5}}, -1, 1});
    const auto a = ready(world)->path({2, 0, 3}, {18, 0, 3});
    QVERIFY2(std::abs(a.cost - 21) < 1e-3, qPrintable(QString::number(a.cost, 'f', 9)));
    double shares = a.linkCost;
    for (const auto& s : a.shares) shares += s.cost;
    QVERIFY(std::abs(shares - a.cost) < 1e-9);
  }
  void islandsAreToldAndLinksJoinThem() {
    const level::World world = Scene().floor(0, 0, 8, 8).floor(11, 0, 19, 8, 0, "far").world();
    const auto without = ready(world)->path({2, 0, 4}, {17, 0, 4});
    QVERIFY(without.status == PathStatus::partial);
    QVERIFY(without.note.find("island") != std::string::npos);
    QVERIFY(std::abs(without.points.back().x - 7.6) < 0.01);
    const links::HandLink jump{5, nav::LinkKind::jump, {7.6, 0, 4}, {11.4, 0, 4}, true, 2};
    const auto r = ready(world, {jump});
    const auto with = r->path({2, 0, 4}, {17, 0, 4});
    QVERIFY(with.status == PathStatus::complete);
    QCOMPARE(with.links.size(), std::size_t{1});
    QCOMPARE(with.links[0].id, 5);
    QVERIFY(std::abs(with.length - 15) < 0.01 && std::abs(with.cost - 17) < 0.01);
    QVERIFY(std::abs(with.points[with.links[0].enter].x - 7.6) < 0.01 && std::abs(with.points[with.links[0].leave].x - 11.4) < 0.01);
    QVERIFY(r->path({17, 0, 4}, {2, 0, 4}).status == PathStatus::partial);  // one way
  }
  /// Of many islands at several heights, some joined by links: from any face, for any place, as when all of them are looked at.
  void theNearestReachablePlaceIsTheNearestOfAll() {
    Scene scene;
    std::vector<links::HandLink> hops;
    for (int i = 0; i < 5; ++i)
      for (int k = 0; k < 4; ++k) {
        scene.floor(i * 6, k * 6, i * 6 + 5, k * 6 + 5, (i + k) % 3 * 2.5, "floor_" + std::to_string(i * 10 + k));
        if ((i * 7 + k * 3) % 4 == 0 && i < 4)
          hops.push_back({1 + i * 10 + k, nav::LinkKind::jump, {i * 6 + 4.6, (i + k) % 3 * 2.5, k * 6 + 2.5},
                          {i * 6 + 6.4, (i + 1 + k) % 3 * 2.5, k * 6 + 2.5}, true, 2});
      }
    const auto r = ready(scene.world(), hops);
    test::Random random(7);
    for (int n = 0; n < 400; ++n) {
      const nav::FaceId from{static_cast<std::uint32_t>(random.upTo(static_cast<int>(r->field->mesh().faceCount())))};
      const double far = n % 5 == 0 ? 200 : 10;
      const Vec3 p{random.in(-far, 30 + far), random.in(-3, 9), random.in(-far, 24 + far)};
      const std::vector<char> reachable = r->field->reachable(from);
      nav::Place best;
      double least = std::numeric_limits<double>::infinity();
      for (std::uint32_t f = 0; f < reachable.size(); ++f) {
        const Vec3 at = nav::nearestOnFace(r->field->mesh(), nav::FaceId{f}, p);
        if (const double d = glm::distance(at, p); reachable[f] && d < least) best = {nav::FaceId{f}, at}, least = d;
      }
      const nav::Place found = r->field->nearestReachable(from, p);
      QVERIFY(found.face == best.face && found.position == best.position);
    }
  }
  void startsAreMovedAndMissingOnesSaid() {
    const auto r = ready(Scene().floor(0, 0, 8, 8).world());
    const auto moved = r->path({0, 0, 4}, {7, 0, 4});
    QVERIFY(moved.status == PathStatus::complete);
    QVERIFY(std::abs(moved.start.moved() - 0.4) < 0.002);
    QVERIFY(moved.note.find("moved") != std::string::npos);
    QVERIFY(r->path({50, 0, 4}, {7, 0, 4}).status == PathStatus::none);
    QVERIFY(r->path({4, 0, 4}, {50, 0, 4}).status == PathStatus::partial);
  }
  void narrowestPlaceOfADoor() {
    const auto r = ready(Scene().floor(0, 0, 10, 10).box({4, -1, -1}, {4.3, 3, 4.5}).box({4, -1, 5.6}, {4.3, 3, 11}).world());
    const auto a = r->path({2, 0, 5}, {8, 0, 5});
    QVERIFY2(std::abs(a.narrowest - 1.1) < 0.02, qPrintable(QString::number(a.narrowest)));
  }
  void lengthIsMeasuredInSpace() {
    const auto r = ready(Scene().floor(-6, 0, 0, 4).ramp(0, 0, 8, 4, 0, 6).floor(8, 0, 14, 4, 6, "top").world());
    const auto a = r->path({-4, 0, 2}, {12, 6, 2});
    QVERIFY(a.status == PathStatus::complete);
    QVERIFY2(std::abs(a.length - 18) < 0.05, qPrintable(QString::number(a.length)));
  }
  void everyPointOfAPathIsOnTheMesh() {
    const auto r = ready(Scene().floor(0, 0, 12, 12).box({4, -1, 3}, {6, 3, 9}).box({8, -1, 1}, {9, 3, 8}).world());
    test::Random random(4);
    for (int i = 0; i < 50; ++i) {
      const auto a = r->path({random.in(0, 12), 0, random.in(0, 12)}, {random.in(0, 12), 0, random.in(0, 12)});
      for (std::size_t k = 0; k + 1 < a.points.size(); ++k)
        for (const double t : {0.0, 0.5, 1.0}) {
          const Vec3 p = glm::mix(a.points[k], a.points[k + 1], t);
          QVERIFY(glm::distance(r->field->locator().nearest(p, 5).position, p) < 0.002);
        }
    }
  }
  void whatIsReachedIsKnownWithoutLooking() {
    // Plates with forbidden strips, joined by random links, some one way: the answer for every pair of faces is that of walking there.
    for (std::uint64_t seed = 0; seed < 12; ++seed) {
      test::Random random(seed);
      Scene scene;
      for (int i = 0; i < 6; ++i) scene.floor(i * 10, 0, i * 10 + 8, 8, 0, "plate");
      level::World world = scene.world();
      world.kinds.push_back({"lava", "#aa0000", 1, 0, true});
      for (int i = 0; i < 3; ++i) {
        const double x = random.upTo(6) * 10 + random.in(2, 5);
        world.volumes.push_back({i + 1, "lava", {{x, 1}, {x, -9}, {x + 1, -9}, {x + 1, 1}}, -1, 1});
      }
      std::vector<links::HandLink> drawn;
      for (int i = 0; i < 7; ++i)
        drawn.push_back({i + 1,
                         nav::LinkKind::climb,
                         {random.upTo(6) * 10 + random.in(1, 7), 0, random.in(1, 7)},
                         {random.upTo(6) * 10 + random.in(1, 7), 0, random.in(1, 7)},
                         random.upTo(2) == 0,
                         0});
      const auto r = ready(world, drawn);
      int reached = 0, apart = 0;
      for (std::uint32_t a = 0; a < r->mesh.faceCount(); ++a) {
        const auto seen = r->field->reachable(nav::FaceId{a});
        for (std::uint32_t b = 0; b < r->mesh.faceCount(); ++b) {
          const bool known = r->field->reaches(nav::FaceId{a}, nav::FaceId{b});
          QCOMPARE(known, seen[b] != 0);
          ++(known ? reached : apart);
        }
      }
      QVERIFY(reached > 0 && apart > 0);
    }
  }
};

QTEST_APPLESS_MAIN(TestRoute)
#include "route.moc"
