// Ways that are the shortest in space, against a closed form, a fine graph over the same triangles, and laws.

#include <QtTest>
#include <queue>

#include "core/route/distances.h"
#include "core/route/path.h"
#include "core/route/slope_search.h"
#include "tests/core/bumpy.h"
#include "tests/core/scenes.h"
#include "tests/core/ways.h"

using namespace dune;
using nav::FaceId;
using nav::Place;
using test::built;
using test::bumpy;
using test::cutSlits;
using test::lengthOf;
using test::Random;
using test::Scene;

namespace {

/// The ways over many points of each edge of a mesh of triangles, and its links; slow, and never below the shortest.
class FineGraph {
 public:
  static constexpr int kParts = 24;
  explicit FineGraph(const nav::NavMesh& mesh) : mesh_(mesh), ofFace_(mesh.faceCount()) {
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::vector<std::size_t>> edges;
    std::map<std::uint32_t, std::size_t> corners;
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
      for (std::uint32_t i = 0; i < 3; ++i) {
        const std::uint32_t a = mesh.corners[f * 3 + i], b = mesh.corners[f * 3 + (i + 1) % 3];
        const auto [corner, fresh] = corners.try_emplace(a, points_.size());
        if (fresh) points_.push_back(mesh.vertices[a]);
        ofFace_[f].push_back(corner->second);
        if (mesh.across[f * 3 + i] == nav::kNoFace) continue;
        auto& on = edges[std::minmax(a, b)];
        if (on.empty())
          for (int k = 1; k < kParts; ++k) {
            on.push_back(points_.size());
            points_.push_back(glm::mix(mesh.vertices[std::min(a, b)], mesh.vertices[std::max(a, b)], double(k) / kParts));
          }
        ofFace_[f].insert(ofFace_[f].end(), on.begin(), on.end());
      }
    faces_.resize(points_.size());
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
      for (const std::size_t p : ofFace_[f]) faces_[p].push_back(f);
  }

  double length(const Place& start, const Place& goal, const route::Field& field) const {
    std::vector<double> best(points_.size(), 1e300), atLink(mesh_.links.size() * 2, 1e300);
    std::priority_queue<std::pair<double, std::size_t>, std::vector<std::pair<double, std::size_t>>, std::greater<>> open;
    double least = 1e300;
    // All that a place in a face sees of it.
    const std::function<void(const Vec3&, std::uint32_t, double)> spread = [&](const Vec3& from, std::uint32_t f, double g) {
      if (f == index(goal.face)) least = std::min(least, g + glm::distance(from, goal.position));
      for (const std::size_t p : ofFace_[f])
        if (const double d = g + glm::distance(from, points_[p]); d < best[p]) best[p] = d, open.emplace(d, p);
      for (std::size_t i = 0; i < mesh_.links.size(); ++i) {
        const nav::Link& link = mesh_.links[i];
        for (const bool forward : {true, false}) {
          if ((!forward && link.oneWay) || index(forward ? link.fromFace : link.toFace) != f) continue;
          const double d = g + glm::distance(from, forward ? link.from : link.to) + field.costOf(link);
          double& known = atLink[i * 2 + forward];
          if (d >= known) continue;
          known = d;
          spread(forward ? link.to : link.from, index(forward ? link.toFace : link.fromFace), d);
        }
      }
    };
    spread(start.position, index(start.face), 0);
    while (!open.empty()) {
      const auto [d, p] = open.top();
      open.pop();
      if (d > best[p]) continue;
      for (const std::uint32_t f : faces_[p]) spread(points_[p], f, d);
    }
    return least;
  }

 private:
  const nav::NavMesh& mesh_;
  std::vector<Vec3> points_;
  std::vector<std::vector<std::size_t>> ofFace_;
  std::vector<std::vector<std::uint32_t>> faces_;
};

Place anyPlace(Random& random, const nav::NavMesh& mesh) {
  const FaceId f{static_cast<std::uint32_t>(random.upTo(static_cast<int>(mesh.faceCount())))};
  const double s = std::sqrt(random.in(0, 1)), t = random.in(0, 1);
  return {f, mesh.cornerAt(f, 0) * (1 - s) + mesh.cornerAt(f, 1) * (s * (1 - t)) + mesh.cornerAt(f, 2) * (s * t)};
}

void addLinks(Random& random, nav::NavMesh& mesh, int count) {
  for (int i = 0; i < count; ++i) {
    const Place a = anyPlace(random, mesh), b = anyPlace(random, mesh);
    nav::Link link;
    link.id = i + 1, link.from = a.position, link.fromFace = a.face, link.to = b.position, link.toFace = b.face;
    link.oneWay = random.upTo(2) == 0, link.cost = random.in(0, 1);
    mesh.links.push_back(link);
  }
}

struct Ground {
  nav::NavMesh mesh;
  std::unique_ptr<route::Field> field;
  std::unique_ptr<route::Search> search;
  Ground(Random& random, int n, double high, int slits, int links) : mesh(bumpy(random, n, high)) {
    cutSlits(random, mesh, n, slits);
    addLinks(random, mesh, links);
    field = std::make_unique<route::Field>(mesh, nav::Rules{});
    search = std::make_unique<route::Search>(*field);
  }
};

}  // namespace

class TestSlopes : public QObject {
  Q_OBJECT

  /// Every part of the way lies in the face that it says.
  static bool liesOnFaces(const nav::NavMesh& mesh, const std::vector<route::WayPoint>& way) {
    for (std::size_t i = 0; i + 1 < way.size(); ++i) {
      if (way[i].link >= 0) continue;
      for (const Vec3& p : {way[i].at, way[i + 1].at, (way[i].at + way[i + 1].at) / 2.0})
        if (glm::distance(nav::nearestOnFace(mesh, way[i].face, p), p) > 1e-6) return false;
    }
    return true;
  }

 private slots:
  void straightOverARidgeUnfolded() {
    nav::NavMesh mesh;  // a slope and level ground that meet at x = 0, 4 m up
    mesh.kinds.push_back({});
    mesh.vertices = {{-8, 0, 0}, {-8, 0, 20}, {0, 4, 20}, {0, 4, 0}, {8, 4, 20}, {8, 4, 0}};
    mesh.corners = {0, 1, 2, 3, 3, 2, 4, 5}, mesh.start = {0, 4, 8}, mesh.area = {0, 0};
    mesh.across = {nav::kNoFace, nav::kNoFace, FaceId{1}, nav::kNoFace, FaceId{0}, nav::kNoFace, nav::kNoFace, nav::kNoFace};
    nav::labelIslands(mesh);
    const route::Field field(mesh, nav::Rules{});
    route::Search search(field);
    const auto answer = route::findPath(field, search, {-6, 1, 2}, {2, 4, 17});
    const double exact = std::hypot(std::hypot(6, 3) + 2, 15);
    QVERIFY2(std::abs(answer.length - exact) < 1e-9, qPrintable(QString::number(answer.length - exact)));
    QVERIFY(answer.optimalityBound < 1 + 1e-9);
    QVERIFY(route::findPath(field, search, {-6, 1, 2}, {2, 4, 17}, {.slopeViews = 0}).length > exact + 0.001);
  }

  /// Around a corner and on along a straight wall over a fold, which turns the wall by next to nothing when it is unfolded.
  void alongAWallOverAFold() {
    for (const double skew : {0.0, 1e-3, -1e-3, 5e-5, -5e-5, 1e-6, -1e-6, 1e-8, -1e-8, 1e-10, -1e-10}) {
      nav::NavMesh mesh;
      mesh.kinds.push_back({});
      mesh.vertices = {{0, 0, 0},  {0, 0, 10},  {4, 0, 10},        {4, 0, 0},   {0, 0, 20},
                       {4, 0, 20}, {10, 3, 10}, {10 + skew, 3, 0}, {16, 3, 10}, {16, 3, 0}};
      mesh.corners = {0, 1, 2, 3, 1, 4, 5, 2, 3, 2, 6, 7, 7, 6, 8, 9};
      mesh.start = {0, 4, 8, 12, 16}, mesh.area = {0, 0, 0, 0};
      mesh.across.assign(16, nav::kNoFace);
      mesh.across[1] = FaceId{1}, mesh.across[7] = FaceId{0}, mesh.across[2] = FaceId{2}, mesh.across[8] = FaceId{0};
      mesh.across[10] = FaceId{3}, mesh.across[12] = FaceId{2};
      nav::labelIslands(mesh);
      const route::Field field(mesh, nav::Rules{});
      route::Search search(field);
      for (const Vec3& goal : {Vec3{16, 3, 10}, Vec3{13, 3, 10}, Vec3{12, 3, 9.999999}}) {
        const double exact = std::hypot(3, 8) + std::hypot(6, 3) + goal.x - 10;
        const auto answer = route::findPath(field, search, {1, 0, 18}, goal);
        QVERIFY2(std::abs(answer.length - exact) < 1e-4 && answer.optimalityBound < 1 + 1e-6,
                 qPrintable(QStringLiteral("skew %1: %2 for %3, at most %4 times the best")
                                .arg(skew)
                                .arg(answer.length)
                                .arg(exact)
                                .arg(answer.optimalityBound)));
        // The search alone finds it, where all that is known is some way three times as long.
        route::SlopeSearch slopes(field);
        const auto found = slopes.find({FaceId{1}, {1, 0, 18}}, {FaceId{3}, goal}, 3 * exact, nullptr, true, 10'000);
        QVERIFY2(!found.way.empty() && std::abs(lengthOf(field, found.way) - exact) < 1e-4, qPrintable(QString::number(skew)));
      }
    }
  }

  /// A face that is not flat is triangles, and a way is as long over it as over these.
  void quadsThatAreNotFlatAreTheirTriangles() {
    Random random(71);
    int through = 0;
    for (int round = 0; round < 12; ++round) {
      const nav::NavMesh triangles = bumpy(random, 6, round % 2 == 0 ? 0.1 : 0.8), quads = test::quadsOf(triangles);
      QVERIFY(quads.faceCount() < triangles.faceCount());
      const route::Field ofTriangles(triangles, nav::Rules{}), ofQuads(quads, nav::Rules{});
      route::Search overTriangles(ofTriangles), overQuads(ofQuads);
      for (int i = 0; i < 40; ++i) {
        const Place start = anyPlace(random, quads);
        const bool within = i % 4 == 0 && quads.cornerCount(start.face) == 4;
        const Place goal = within ? Place{start.face, quads.cornerAt(start.face, 3)} : anyPlace(random, quads);
        const auto onTriangles = [&](const Place& p) { return ofTriangles.locator().nearest(p.position, 0.5); };
        const auto way = overQuads.findInSpace(start, goal), same = overTriangles.findInSpace(onTriangles(start), onTriangles(goal));
        const double length = lengthOf(ofQuads, way), wanted = lengthOf(ofTriangles, same);
        QVERIFY2(std::abs(length - wanted) <= 1e-4 * wanted, qPrintable(QStringLiteral("%1 for %2").arg(length).arg(wanted)));
        through += within && way.size() == 3 ? 1 : 0;
      }
    }
    QVERIFY(through > 0);
  }

  void noneIsShorterOverAnyTriangles() {
    double saved = 0;
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
      Random random(seed);
      const Ground g(random, 6, random.in(0.2, 4), 12, seed % 2 ? 0 : 4);
      const FineGraph graph(g.mesh);
      for (int i = 0; i < 5; ++i) {
        const Place a = anyPlace(random, g.mesh), b = anyPlace(random, g.mesh);
        const double inPlan = lengthOf(*g.field, g.search->find(a, b));
        const auto way = g.search->findInSpace(a, b);
        const double length = lengthOf(*g.field, way), other = graph.length(a, b, *g.field);
        const auto which = QStringLiteral("seed %1, way %2: %3, %4 over the graph").arg(seed).arg(i).arg(length).arg(other);
        QVERIFY2(liesOnFaces(g.mesh, way), qPrintable(which));
        QVERIFY2(length <= other + 1e-6 && length <= inPlan + 1e-9, qPrintable(which));
        QVERIFY2(other <= length * 1.01 + 0.05, qPrintable(which));
        QVERIFY2(g.search->lowerBound() <= other + 1e-6 && g.search->lowerBound() >= length * (1 - 1e-4), qPrintable(which));
        saved = std::max(saved, 1 - length / inPlan);
      }
    }
    QVERIFY2(saved > 0.1, qPrintable(QString::number(saved)));
  }

  void lengthsAreDistances() {
    for (std::uint64_t seed = 100; seed < 130; ++seed) {
      Random random(seed);
      const Ground g(random, 8, random.in(0.2, 3), 20, 0);
      for (int i = 0; i < 10; ++i) {
        const Place a = anyPlace(random, g.mesh), b = anyPlace(random, g.mesh), c = anyPlace(random, g.mesh);
        const auto apart = [&](const Place& p, const Place& q) { return lengthOf(*g.field, g.search->findInSpace(p, q)); };
        // What is not worth looking for, 1e-4 of the length at most, may be missing.
        const double ab = apart(a, b), slack = 2e-4 * ab + 1e-9;
        QVERIFY2(std::abs(ab - apart(b, a)) <= slack, qPrintable(QStringLiteral("seed %1, %2").arg(seed).arg(i)));
        QVERIFY2(ab <= apart(a, c) + apart(c, b) + slack, qPrintable(QStringLiteral("seed %1, %2").arg(seed).arg(i)));
      }
    }
  }

  void distancesAreThoseOfPaths() {
    for (std::uint64_t seed = 300; seed < 320; ++seed) {
      Random random(seed);
      const Ground g(random, 8, random.in(0.5, 4), 16, seed % 2 ? 0 : 5);
      const Place centre = anyPlace(random, g.mesh);
      const double most = random.in(5, 40);
      Job job;
      const route::Distances from(*g.field, centre, route::Heading::from, most, job), to(*g.field, centre, route::Heading::to, most, job);
      for (int i = 0; i < 30; ++i) {
        const Place other = anyPlace(random, g.mesh);
        for (const bool back : {false, true}) {
          const double found = back ? to.at(other) : from.at(other);
          const double length = lengthOf(*g.field, back ? g.search->findInSpace(other, centre) : g.search->findInSpace(centre, other));
          const auto which = QStringLiteral("seed %1, %2: %3 and %4 of %5").arg(seed).arg(i).arg(found).arg(length).arg(most);
          if (std::isfinite(found))
            QVERIFY2(found <= length + 1e-6 && length <= found * (1 + 2e-4) + 1e-6, qPrintable(which));
          else
            QVERIFY2(length > most - 1e-6, qPrintable(which));
        }
      }
    }
  }

  /// Over steps of a platform or past it, as far in plan.
  void theLevelOneOfTwoThatAreAsLongInPlan() {
    Scene scene;
    scene.floor(0, 0, 20, 12).box({8, -1, 4.4}, {12, 3, 7.6}, "block");
    scene.ramp(6, 8.4, 10, 12, 0, 1.2, "up").ramp(10, 8.4, 14, 12, 1.2, 0, "down");
    const auto b = built(scene.world());
    const route::Field field(b->mesh, b->rules());
    route::Search search(field);
    const auto answer = route::findPath(field, search, {2, 0, 6}, {18, 0, 6});
    QVERIFY(answer.status == route::PathStatus::complete && answer.steepest < 1);
    for (const Vec3& p : answer.points) QVERIFY(std::abs(p.y) < 1e-3);
  }

  /// However much there is to look at: not dearer than in plan, what is stated is true, and it ends.
  void whatIsTooMuchIsSaid() {
    Random random(3);
    const Ground g(random, 90, 1.5, 300, 0);
    int stated = 0;
    for (int i = 0; i < 12; ++i) {
      const Place a = anyPlace(random, g.mesh), b = anyPlace(random, g.mesh);
      const auto inPlan = g.search->find(a, b);
      const double least = g.search->lowerBound();
      const auto way = g.search->findInSpace(a, b, 16'000);
      const double length = lengthOf(*g.field, way);
      QVERIFY(liesOnFaces(g.mesh, way));
      QVERIFY(length <= lengthOf(*g.field, inPlan) + 1e-9);
      QVERIFY(g.search->lowerBound() >= least - 1e-9 && g.search->lowerBound() <= length + 1e-9);
      stated += g.search->lowerBound() < length * (1 - 1e-4);
      // A shorter way is none: of two halves each is no shorter than what is said of the whole lets them be.
      const Place middle{way[way.size() / 2].face, way[way.size() / 2].at};
      QVERIFY(lengthOf(*g.field, g.search->findInSpace(a, middle)) + lengthOf(*g.field, g.search->findInSpace(middle, b)) >= least - 1e-9);
    }
    QVERIFY(stated > 0);
  }

  /// What cheap ground saves is reckoned in plan, and a ramp is longer than that.
  void whatIsStatedOverACheapRampIsTrue() {
    nav::NavMesh mesh;
    mesh.kinds = {{"paved", "#d98e32"}};
    mesh.vertices = {{0, 0, 0}, {0, 0, 6}, {10, 10, 6}, {10, 10, 0}};
    mesh.corners = {0, 1, 2, 3}, mesh.start = {0, 4}, mesh.area = {0}, mesh.across.assign(4, nav::kNoFace);
    nav::labelIslands(mesh);
    const route::Field field(mesh, nav::Rules{{{0.5, 0, false}}, {}});
    route::Search search(field);
    const Place a{FaceId{0}, {0.5, 0.5, 3}}, b{FaceId{0}, {9.5, 9.5, 3}};
    const double cost = 0.5 * lengthOf(field, search.findInSpace(a, b));
    QVERIFY2(search.lowerBound() <= cost + 1e-9 && search.lowerBound() > 0.99 * cost,
             qPrintable(QString::number(search.lowerBound() / cost)));
  }

  void distancesFromAndToNoGroundAreNone() {
    Random random(1);
    nav::NavMesh mesh = bumpy(random, 4, 2);
    mesh.kinds = {{"ground", "#d98e32"}, {"brine", "#4080a0"}};
    mesh.area[0] = 1;
    const route::Field field(mesh, nav::Rules{{{1, 0, false}, {1, 0, true}}, {}});
    const Place forbidden{FaceId{0}, nav::middleOf(mesh, FaceId{0})}, free{FaceId{9}, nav::middleOf(mesh, FaceId{9})};
    Job job;
    const route::Distances distances(field, free, route::Heading::from, 50, job);
    QVERIFY(distances.at(free) < 1e-9 && std::isfinite(distances.at({FaceId{20}, nav::middleOf(mesh, FaceId{20})})));
    QVERIFY(std::isinf(distances.at(forbidden)) && std::isinf(distances.at(Place{})));
    for (const Place& from : {forbidden, Place{}})
      QVERIFY(std::isinf(route::Distances(field, from, route::Heading::from, 50, job).at(free)));
  }

  /// With kinds of ground the stretches between them are drawn again, and it costs no more.
  void overGroundOfSeveralCostsItIsNotDearer() {
    double saved = 0;
    for (std::uint64_t seed = 200; seed < 220; ++seed) {
      Random random(seed);
      nav::NavMesh mesh = bumpy(random, 10, 2);
      mesh.kinds = {{"ground", "#d98e32"}, {"mud", "#806040"}};
      for (auto& kind : mesh.area) kind = random.upTo(6) == 0;
      const route::Field field(mesh, nav::Rules{{{1, 0, false}, {3, 0.5, false}}, {}});
      route::Search search(field);
      for (int i = 0; i < 6; ++i) {
        const Place a = anyPlace(random, mesh), b = anyPlace(random, mesh);
        const auto ask = [&](bool inSpace) {
          return route::findPath(field, search, a, b.position, {.slopeViews = inSpace ? route::kUsualSlopeViews : 0});
        };
        const auto now = ask(true), inPlan = ask(false);
        QVERIFY2(now.cost <= inPlan.cost + 1e-6,
                 qPrintable(QStringLiteral("seed %1, %2: %3 and %4").arg(seed).arg(i).arg(now.cost).arg(inPlan.cost)));
        QVERIFY(now.cost / now.optimalityBound <= inPlan.cost + 1e-6);
        double stretches = now.linkCost;
        for (const auto& s : now.stretches) stretches += s.cost + s.entry;
        QVERIFY(std::abs(stretches - now.cost) < 1e-6);
        saved += inPlan.cost - now.cost;
      }
    }
    QVERIFY(saved > 1);
  }
};

QTEST_APPLESS_MAIN(TestSlopes)
#include "slopes.moc"
