// The ground that is searched against the mesh it stands for: the same border, the same ways.

#include "core/route/simple_ground.h"

#include <QtTest>
#include <map>
#include <set>

#include "core/links/attach.h"
#include "core/route/path.h"
#include "core/route/search_ground.h"
#include "tests/core/bumpy.h"
#include "tests/core/scenes.h"

using namespace dune;
using nav::FaceId;
using test::bumpy;
using test::cutSlits;
using test::Random;
using test::Scene;

namespace {

/// What a way costs in plan: heights are not what the search goes by.
double planCost(const route::Field& field, const std::vector<route::WayPoint>& way) {
  double cost = 0;
  for (std::size_t k = 0; k + 1 < way.size(); ++k) {
    cost += way[k].link >= 0 ? field.costOf(field.mesh().links[static_cast<std::size_t>(way[k].link)])
                             : glm::distance(plan(way[k].at), plan(way[k + 1].at)) * field.perMetre(way[k].face);
    cost += field.entryCost(way[k].face, way[k + 1].face);
  }
  return cost;
}

double planLength(const std::vector<route::WayPoint>& way) {
  double length = 0;
  for (std::size_t k = 0; k + 1 < way.size(); ++k) length += glm::distance(plan(way[k].at), plan(way[k + 1].at));
  return length;
}

/// The shortest way around walls without width, over their ends.
double aroundWalls(const std::vector<std::pair<Vec2, Vec2>>& walls, const Vec2& from, const Vec2& to) {
  std::vector<Vec2> points{from, to};
  for (const auto& [a, b] : walls) points.push_back(a), points.push_back(b);
  const auto sees = [&](const Vec2& a, const Vec2& b) {
    return std::ranges::none_of(walls, [&](const auto& w) {
      return cross(b - a, w.first - a) * cross(b - a, w.second - a) < -1e-12 &&
             cross(w.second - w.first, a - w.first) * cross(w.second - w.first, b - w.first) < -1e-12;
    });
  };
  std::vector<double> best(points.size(), 1e300);
  std::vector<char> done(points.size(), 0);
  best[0] = 0;
  while (true) {
    std::size_t at = points.size();
    for (std::size_t i = 0; i < points.size(); ++i)
      if (!done[i] && (at == points.size() || best[i] < best[at])) at = i;
    if (at == 1) return best[1];
    done[at] = 1;
    for (std::size_t i = 0; i < points.size(); ++i)
      if (!done[i] && sees(points[at], points[i])) best[i] = std::min(best[i], best[at] + glm::distance(points[at], points[i]));
  }
}

/// A place by chance: within a face, on an edge, or at a corner.
nav::Place anywhere(Random& random, const nav::NavMesh& mesh) {
  const FaceId f{static_cast<std::uint32_t>(random.upTo(static_cast<int>(mesh.faceCount())))};
  const Vec3 &a = mesh.cornerAt(f, 0), &b = mesh.cornerAt(f, 1), &c = mesh.cornerAt(f, 2);
  switch (random.upTo(4)) {
    case 0:
      return {f, a};
    case 1:
      return {f, (a + b) / 2.0};
    default: {
      const double s = random.in(0, 1), t = random.in(0, 1 - s);
      return {f, a * (1 - s - t) + b * s + c * t};
    }
  }
}

/// Steps, storeys, a spiral and bumps: ground that lies above itself.
Scene storeys(Random& random) {
  Scene scene;
  scene.floor(-12, -12, 12, 12);
  for (int i = 0; i < 8; ++i) {
    const Vec3 a{random.in(-11, 9), -0.5, random.in(-11, 9)};
    scene.box(a, a + Vec3{random.in(0.3, 2), random.in(0.6, 1.2), random.in(0.3, 2)}, "crate");
  }
  constexpr int kQuads = 48;
  for (int i = 0; i < kQuads; ++i) {
    const double a = i * 2 * std::numbers::pi / 24, b = (i + 1) * 2 * std::numbers::pi / 24;
    const auto at = [](double r, double angle, double y) { return Vec3{r * std::cos(angle), y, r * std::sin(angle)}; };
    const double low = 0.13 * i, high = 0.13 * (i + 1);
    scene.quad(at(2, a, low), at(2, b, high), at(5, b, high), at(5, a, low), "spiral");
  }
  scene.floor(4, -6, 20, 6, 0.13 * kQuads, "top");
  return scene;
}

/// Ground of several costs in blobs.
nav::Rules colour(Random& random, nav::NavMesh& mesh) {
  mesh.kinds.assign(5, {});
  const double cell = random.in(2, 6);
  std::map<std::pair<int, int>, int> kinds;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    const Vec3& at = mesh.cornerAt(FaceId{f}, 0);
    const std::pair key{static_cast<int>(std::floor(at.x / cell)), static_cast<int>(std::floor(at.z / cell))};
    if (!kinds.contains(key)) kinds[key] = std::max(0, random.upTo(8) - 3);
    mesh.area[f] = static_cast<std::uint16_t>(kinds[key]);
  }
  return {{{1, 0, false}, {3, 0, false}, {0.5, 2, false}, {1, 0, true}, {1, 0, false}}};
}

void addLinks(Random& random, nav::NavMesh& mesh) {
  std::vector<links::HandLink> drawn;
  for (int i = 0; i < 4; ++i) {
    const Vec3 from = anywhere(random, mesh).position, to = anywhere(random, mesh).position;
    drawn.push_back({i + 1, nav::LinkKind::climb, from, to, random.upTo(2) == 0, random.in(0, 4)});
  }
  mesh.links = links::attach(mesh, nav::Locator(mesh), drawn).links;
}

}  // namespace

class TestSimpleGround : public QObject {
  Q_OBJECT

  using Edges = std::multiset<std::array<double, 6>>;
  static void addEdge(Edges& edges, const nav::NavMesh& mesh, FaceId f, std::size_t i) {
    const Vec3 &a = mesh.cornerAt(f, i), &b = mesh.cornerAt(f, (i + 1) % mesh.cornerCount(f));
    edges.insert({a.x, a.y, a.z, b.x, b.y, b.z});
  }
  /// The border of what may be walked on, and of each class of ground.
  static Edges border(const nav::NavMesh& mesh, const nav::Rules& rules, const std::vector<std::uint16_t>& classOf) {
    Edges edges;
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
      for (std::size_t i = 0; i < mesh.cornerCount(FaceId{f}) && rules.passable(mesh, FaceId{f}); ++i) {
        const FaceId g = mesh.acrossOf(FaceId{f})[i];
        if (g == nav::kNoFace || !rules.passable(mesh, g) || classOf[mesh.area[f]] != classOf[mesh.area[index(g)]])
          addEdge(edges, mesh, FaceId{f}, i);
      }
    return edges;
  }
  static void check(const nav::NavMesh& mesh, const nav::Rules& rules) {
    const route::Adjacency adjacency(mesh);
    const route::SimpleGround simple = route::simplify(adjacency, rules);
    const nav::NavMesh& less = simple.mesh;
    QVERIFY(border(mesh, rules, simple.classOf) == border(less, rules, simple.classOf));
    std::vector<double> whole(mesh.kinds.size()), parts(mesh.kinds.size());
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
      if (rules.passable(mesh, FaceId{f})) whole[simple.classOf[mesh.area[f]]] += faceArea(mesh, FaceId{f});
    for (std::uint32_t f = 0; f < less.faceCount(); ++f) {
      const double area = faceArea(less, FaceId{f});
      QVERIFY(area > 0);
      parts[less.area[f]] += area;
      for (std::size_t i = 0, n = less.cornerCount(FaceId{f}); i < n; ++i) {
        const auto at = [&](std::size_t k) { return plan(less.cornerAt(FaceId{f}, k % n)); };
        QVERIFY(cross(at(i + 1) - at(i), at(i + 2) - at(i + 1)) >= 0);
        const FaceId g = less.acrossOf(FaceId{f})[i];
        QVERIFY(g != FaceId{f} && (g == nav::kNoFace || std::ranges::find(less.acrossOf(g), FaceId{f}) != less.acrossOf(g).end()));
      }
    }
    for (std::size_t k = 0; k < whole.size(); ++k) QVERIFY(std::abs(whole[k] - parts[k]) < 1e-6);
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
      QCOMPARE(simple.inside[f] != nav::kNoFace, rules.passable(mesh, FaceId{f}));
      if (simple.inside[f] == nav::kNoFace) continue;
      Vec2 centre{0};
      for (const std::uint32_t v : mesh.cornersOf(FaceId{f})) centre += plan(mesh.vertices[v]);
      QVERIFY(nav::coversPlan(less, simple.inside[f], centre / static_cast<double>(mesh.cornerCount(FaceId{f})), 1e-6));
      QCOMPARE(less.area[index(simple.inside[f])], simple.classOf[mesh.area[f]]);
    }
  }
  /// Whether every two faces of an answer that follow each other meet.
  static bool hangsTogether(const nav::NavMesh& mesh, const route::PathAnswer& answer) {
    for (std::size_t k = 0; k + 1 < answer.faces.size(); ++k) {
      const FaceId f = answer.faces[k], g = answer.faces[k + 1];
      bool meet = std::ranges::any_of(mesh.cornersOf(f),
                                      [&](std::uint32_t v) { return std::ranges::find(mesh.cornersOf(g), v) != mesh.cornersOf(g).end(); });
      for (const nav::Link& link : mesh.links) meet |= (link.fromFace == f && link.toFace == g) || (link.toFace == f && link.fromFace == g);
      if (!meet) return false;
    }
    return true;
  }
  static void sameWays(Random& random, const nav::NavMesh& mesh, const nav::Rules& rules, int count, double within) {
    const auto layout = std::make_shared<const route::Layout>(mesh);
    const route::Field simple(layout, rules), whole(layout, rules, route::asItIs(*layout, rules));
    route::Search quick(simple), slow(whole);
    for (int i = 0; i < count; ++i) {
      const nav::Place from = anywhere(random, mesh), to = anywhere(random, mesh);
      const auto a = route::findPath(simple, quick, from, to.position, {2, true, false}),
                 b = route::findPath(whole, slow, from, to.position, {2, true, false});
      QCOMPARE(a.status, b.status);
      if (a.status == route::PathStatus::none) continue;
      QVERIFY2(hangsTogether(mesh, a), "the way has a gap");
      const double l = planCost(simple, quick.find(from, {a.faces.back(), a.goal.used})),
                   m = planCost(whole, slow.find(from, {b.faces.back(), b.goal.used}));
      QVERIFY2(std::abs(l - m) <= within * (m + 3) + 1e-6 * std::max(1.0, m), qPrintable(QStringLiteral("%1 against %2 from %3 %4 to %5 %6")
                                                                                             .arg(l, 0, 'g', 12)
                                                                                             .arg(m, 0, 'g', 12)
                                                                                             .arg(from.position.x, 0, 'g', 17)
                                                                                             .arg(from.position.z, 0, 'g', 17)
                                                                                             .arg(to.position.x, 0, 'g', 17)
                                                                                             .arg(to.position.z, 0, 'g', 17)));
    }
  }

 private slots:
  void theBorderIsTheSame() {
    for (std::uint64_t seed = 1; seed <= 12; ++seed) {
      Random random(seed);
      nav::NavMesh mesh = seed % 2 ? bumpy(random, 12) : test::built(storeys(random).world())->mesh;
      if (seed % 2) cutSlits(random, mesh, 12, 40);
      check(mesh, nav::Rules{});
      const nav::Rules rules = colour(random, mesh);
      check(mesh, rules);
      if (QTest::currentTestFailed()) QFAIL(qPrintable(QStringLiteral("seed %1").arg(seed)));
    }
  }
  void heightsCostNothing() {
    Random random(1);
    const nav::NavMesh mesh = bumpy(random, 40);
    const route::SimpleGround simple = route::simplify(route::Adjacency(mesh), nav::Rules{});
    QVERIFY2(simple.mesh.faceCount() * 20 < mesh.faceCount(), qPrintable(QString::number(simple.mesh.faceCount())));
  }
  void shortestAroundSlits() {
    // Walls without width: a way turns around their ends, once all the way back.
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
      Random random(seed);
      nav::NavMesh mesh = bumpy(random, 8);
      // The outline is a square of fixed corners, so that every two places see each other but for the walls.
      for (std::uint32_t v = 0; v < mesh.vertices.size(); ++v) {
        const int x = static_cast<int>(v) % 9, z = static_cast<int>(v) / 9;
        if (x == 0 || z == 0 || x == 8 || z == 8) mesh.vertices[v] = {2.0 * x, 0, 2.0 * z};
      }
      const auto walls = cutSlits(random, mesh, 8, 60);
      const route::Field field(mesh, {});
      route::Search search(field);
      for (int i = 0; i < 40; ++i) {
        const nav::Place from = anywhere(random, mesh), to = anywhere(random, mesh);
        const auto onWall = [&](const nav::Place& p) {
          return std::ranges::any_of(walls, [&](const auto& w) { return distanceToSegment(w.first, w.second, plan(p.position)) < 1e-6; });
        };
        if (onWall(from) || onWall(to)) continue;  // which side is meant would have to be said to brute force too
        const double exact = aroundWalls(walls, plan(from.position), plan(to.position)), found = planLength(search.find(from, to));
        QVERIFY2(std::abs(found - exact) < 1e-6, qPrintable(QStringLiteral("seed %1: %2 against %3").arg(seed).arg(found).arg(exact)));
      }
    }
  }
  void waysAreThoseOfTheWholeMesh() {
    for (std::uint64_t seed = 1; seed <= 30; ++seed) {
      Random random(seed);
      nav::NavMesh mesh = seed % 2 ? bumpy(random, 10) : test::built(storeys(random).world())->mesh;
      if (seed % 2) cutSlits(random, mesh, 10, 60);
      mesh.agent.maxJump = mesh.agent.maxDrop = 30;
      sameWays(random, mesh, nav::Rules{}, 60, 0);
      if (seed % 3 == 0) addLinks(random, mesh);
      const nav::Rules rules = colour(random, mesh);
      sameWays(random, mesh, rules, 40, 0.012);
      if (QTest::currentTestFailed()) QFAIL(qPrintable(QStringLiteral("seed %1").arg(seed)));
    }
  }
  void nothingToSimplifyIsNoFailure() {
    const nav::NavMesh empty;
    const route::Field none(empty, {});
    route::Search search(none);
    QVERIFY(route::findPath(none, search, Vec3{0}, Vec3{1, 0, 0}).status == route::PathStatus::none);
    // A face without area joins two others: everything stays as it is, and the way leads over it.
    nav::NavMesh thin;
    thin.kinds.push_back({});
    thin.vertices = {{0, 0, 0}, {0, 0, 2}, {2, 0, 2}, {2, 0, 0}, {2, 0, 1}, {4, 0, 0}, {4, 0, 2}};
    thin.start = {0, 4, 7, 11}, thin.corners = {0, 1, 2, 3, 2, 4, 3, 3, 4, 6, 5};
    thin.across = {nav::kNoFace, nav::kNoFace, FaceId{1},    nav::kNoFace, nav::kNoFace, FaceId{2},
                   FaceId{0},    FaceId{1},    nav::kNoFace, nav::kNoFace, nav::kNoFace};
    thin.area = {0, 0, 0}, thin.island = {0, 0, 0};
    const route::SimpleGround simple = route::simplify(route::Adjacency(thin), nav::Rules{});
    QCOMPARE(simple.mesh.faceCount(), thin.faceCount());
  }
};

QTEST_APPLESS_MAIN(TestSimpleGround)
#include "simple_ground.moc"
