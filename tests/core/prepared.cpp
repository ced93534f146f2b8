// Ways over prepared ground against those that are searched for.

#include <QtTest>

#include "core/route/path.h"
#include "core/route/slope_search.h"
#include "core/system/threads.h"
#include "tests/core/bumpy.h"
#include "tests/core/scenes.h"
#include "tests/core/ways.h"

using namespace dune;
using nav::FaceId;
using nav::Place;
using route::Measure;
using test::built;
using test::bumpy;
using test::cutSlits;
using test::lengthOf;
using test::Random;
using test::Scene;

namespace {

/// A place anywhere in a face, on one of its edges or at a corner.
Place placeIn(Random& random, const nav::NavMesh& mesh) {
  const FaceId f{static_cast<std::uint32_t>(random.upTo(static_cast<int>(mesh.faceCount())))};
  const int how = random.upTo(8);
  Vec3 at = mesh.cornerAt(f, 0);
  if (how == 1) at = (at + mesh.cornerAt(f, 1)) * 0.5;
  if (how > 1) {
    double sum = 0;
    at = Vec3{0};
    for (std::size_t i = 0; i < mesh.cornerCount(f); ++i) {
      const double part = random.in(0.01, 1);
      at += mesh.cornerAt(f, i) * part, sum += part;
    }
    at /= sum;
  }
  return {f, lift(plan(at), nav::heightOn(mesh, f, plan(at)))};
}

/// Rooms with walls, round pillars, a ramp up to a gallery and steps, at any turn.
Scene rooms(Random& random) {
  Scene scene;
  scene.floor(0, 0, 24, 20).ramp(14, 3, 20, 5, 0, 2.2).floor(20, 2, 23, 18, 2.2, "gallery");
  for (int i = 0; i < 9; ++i) {
    const double x = random.in(1, 22), z = random.in(1, 18), wide = random.in(0.2, 2.5), deep = random.in(0.2, 2.5);
    scene.box({x, 0, z}, {x + wide, i % 3 == 0 ? random.in(0.1, 0.38) : 3, z + deep});
  }
  return scene.turned(random.in(0, 6));
}

void prepare(const route::Field& field, Measure measure, int threads = 1) {
  ThreadedJob job;
  job.setThreads(threads);
  const Outcome done = field.prepare(measure, job);
  QVERIFY2(done.ok() && field.prepared(measure) != nullptr, done ? "" : done.problem().text().c_str());
}

/// Every point lies in the face that the way goes on in, and the faces follow each other.
void checkWay(const nav::NavMesh& mesh, const std::vector<route::WayPoint>& way, const Place& start, const Place& goal) {
  QVERIFY(way.size() >= 2 && glm::distance(way.front().at, start.position) < 0.02 && glm::distance(way.back().at, goal.position) < 0.02);
  for (std::size_t i = 0; i < way.size(); ++i) {
    const Vec2 at = plan(way[i].at);
    QVERIFY(nav::coversPlan(mesh, way[i].face, at, 1e-3) && std::abs(nav::heightOn(mesh, way[i].face, at) - way[i].at.y) < 0.02);
    if (i > 0 && way[i - 1].link < 0) QVERIFY(nav::coversPlan(mesh, way[i - 1].face, at, 1e-3));
  }
}

/// The search over slopes, with all the time that it takes.
std::vector<route::WayPoint> shortest(route::SlopeSearch& exact, const Place& start, const Place& goal) {
  return exact.find(start, goal, 1e6, nullptr, false, 1'000'000'000).way;
}

void checkShortest(const route::Field& field, const std::vector<route::WayPoint>& way, const Place& start, const Place& goal, double least,
                   Measure measure, const QString& which) {
  checkWay(field.mesh(), way, start, goal);
  if (QTest::currentTestFailed()) return;
  const double length = lengthOf(field, way, measure);
  QVERIFY2(std::abs(length - least) <= 1e-6 * std::max(1.0, least),
           qPrintable(QString("%1: %2 prepared, %3 at best").arg(which).arg(length).arg(least)));
}

}  // namespace

class TestPrepared : public QObject {
  Q_OBJECT

 private slots:
  void asShortAsSearchedInRooms() {
    for (unsigned seed = 0; seed < 12; ++seed) {
      Random random(seed);
      const auto b = built(rooms(random).world());
      for (const Measure measure : {Measure::plan, Measure::space}) {
        const route::Field searched(b->mesh, {}), prepared(b->mesh, {});
        prepare(prepared, measure);
        if (seed % 2 == 0) prepare(prepared, Measure::plan);  // with which ways in space need not always be compared
        route::Search slow(searched), quick(prepared, route::Answers::prepared);
        route::SlopeSearch exact(searched);
        const bool inPlan = measure == Measure::plan;
        for (int i = 0; i < 60; ++i) {
          const Place start = placeIn(random, b->mesh), goal = placeIn(random, b->mesh);
          const auto way = inPlan ? quick.find(start, goal) : quick.findInSpace(start, goal);
          QCOMPARE(!way.empty(), searched.reaches(start.face, goal.face));
          if (way.empty()) continue;
          const auto other = inPlan ? slow.find(start, goal) : shortest(exact, start, goal);
          checkShortest(prepared, way, start, goal, lengthOf(searched, other, measure), measure, QString("seed %1, %2").arg(seed).arg(i));
          if (QTest::currentTestFailed()) return;
          const double length = lengthOf(prepared, way);
          QVERIFY(inPlan || (quick.lowerBound() <= length * (1 + 1e-9) && quick.lowerBound() >= length * (1 - 1e-6)));
        }
      }
    }
  }

  /// Over triangles of any form, with walls without width, the search over the slopes is exact and looks at everything.
  void exactlyTheShortestOverBumps() {
    for (unsigned seed = 0; seed < 15; ++seed) {
      Random random(seed);
      nav::NavMesh mesh = bumpy(random, 7, seed % 3 == 0 ? 0 : 1.5);
      cutSlits(random, mesh, 7, 25);
      const route::Field field(mesh, {});
      prepare(field, Measure::space);
      route::SlopeSearch exact(field);
      route::Search search(field, route::Answers::prepared);
      for (int i = 0; i < 60; ++i) {
        const Place start = placeIn(random, mesh), goal = placeIn(random, mesh);
        checkShortest(field, search.findInSpace(start, goal), start, goal, lengthOf(field, shortest(exact, start, goal)), Measure::space,
                      QString("seed %1, %2").arg(seed).arg(i));
        if (QTest::currentTestFailed()) return;
      }
    }
  }

  /// One way and both ways, long and short, and shorter than the crow flies.
  void overLinksToo() {
    for (unsigned seed = 0; seed < 12; ++seed) {
      Random random(seed);
      nav::NavMesh mesh = bumpy(random, 6, 1);
      cutSlits(random, mesh, 6, 25);
      for (int i = 0; i < 6; ++i) {
        const Place from = placeIn(random, mesh), to = placeIn(random, mesh);
        mesh.links.push_back({.id = i,
                              .from = from.position,
                              .to = to.position,
                              .fromFace = from.face,
                              .toFace = to.face,
                              .oneWay = random.upTo(2) == 0,
                              .cost = random.in(0, 1),
                              .perMetre = seed % 2 == 0 ? random.in(1, 1.5) : 0.3});
      }
      const route::Field field(mesh, {});
      prepare(field, Measure::space);
      route::Search search(field, route::Answers::prepared);
      for (int i = 0; i < 40; ++i) {
        const Place start = placeIn(random, mesh), goal = placeIn(random, mesh);
        checkShortest(field, search.findInSpace(start, goal), start, goal, overLinks(field, start, goal), Measure::space,
                      QString("seed %1, %2").arg(seed).arg(i));
        if (QTest::currentTestFailed()) return;
      }
    }
  }

  void fromAPlaceToItself() {
    Random random(4);
    nav::NavMesh mesh = bumpy(random, 5, 1);
    cutSlits(random, mesh, 5, 12);
    const route::Field field(mesh, {});
    prepare(field, Measure::space), prepare(field, Measure::plan);
    route::Search search(field, route::Answers::prepared);
    for (int i = 0; i < 100; ++i) {
      const Place here = placeIn(random, mesh);
      QVERIFY(lengthOf(field, search.findInSpace(here, here)) < 1e-9 && lengthOf(field, search.find(here, here), Measure::plan) < 1e-9);
    }
  }

  void theSameOnAnyNumberOfThreads() {
    Random random(3);
    const auto b = built(rooms(random).world());
    const route::Field one(b->mesh, {}), two(b->mesh, {});
    prepare(one, Measure::space, 1), prepare(two, Measure::space, 2);
    route::Search first(one, route::Answers::prepared), second(two, route::Answers::prepared);
    for (int i = 0; i < 200; ++i) {
      const Place start = placeIn(random, b->mesh), goal = placeIn(random, b->mesh);
      const auto a = first.findInSpace(start, goal), c = second.findInSpace(start, goal);
      QVERIFY(std::ranges::equal(a, c, [](const auto& p, const auto& q) { return p.at == q.at && p.face == q.face && p.link == q.link; }));
    }
  }

  /// Nothing is prepared then, and all is answered as before.
  void whatCannotBePreparedIsSaid() {
    Random random(5);
    nav::NavMesh mesh = bumpy(random, 6, 1);
    ThreadedJob job;
    const route::Field small(mesh, {});
    const Outcome tooMuch = small.prepare(Measure::space, job, 10'000);
    QVERIFY(!tooMuch && tooMuch.problem().what.find("places where ways bend") != std::string::npos && !small.prepared(Measure::space));
    mesh.kinds.push_back({.name = "brine"});
    for (std::size_t f = 0; f < mesh.faceCount() / 2; ++f) mesh.area[f] = 1;
    const route::Field dear(mesh, {{{.cost = 1}, {.cost = 3}}});
    for (const Measure measure : {Measure::plan, Measure::space}) {
      const Outcome costs = dear.prepare(measure, job);
      QVERIFY(!costs && costs.problem().what.find("cost differently") != std::string::npos && !dear.prepared(measure));
    }
    const route::Field same(mesh, {{{.cost = 2}, {.cost = 2}}});
    QVERIFY(same.prepare(Measure::space, job) && same.prepare(Measure::plan, job));
    route::Search search(same, route::Answers::prepared), plain(small);
    const Place start = placeIn(random, mesh), goal = placeIn(random, mesh);
    const auto answer = route::findPath(same, search, start.position, goal.position);
    const auto other = route::findPath(small, plain, start.position, goal.position);
    QVERIFY(std::abs(answer.cost - 2 * other.cost) < 1e-3 * other.cost && answer.optimalityBound < 1.000001);
  }

  void cancelledAtAnyTimeNothingIsPrepared() {
    Random random(8);
    nav::NavMesh mesh = bumpy(random, 5, 1);
    cutSlits(random, mesh, 5, 12);
    const route::Field field(mesh, {});
    int swept = 0;
    for (long check = 0;; ++check) {
      Job job;
      job.cancelAtCheck(check);
      const Outcome done = field.prepare(Measure::space, job);
      if (done) break;
      QVERIFY(done.problem().code == ProblemCode::cancelled && !field.prepared(Measure::space));
      ++swept;
    }
    QVERIFY(swept > 1 && field.prepared(Measure::space));
  }

  /// A wall that ends on the long side of a face leaves a corner straight on it.
  void cornersStraightOnASideAreSeen() {
    // A floor of two long faces, and a niche over a part of the edge between them.
    nav::NavMesh mesh;
    mesh.kinds.push_back({});
    mesh.vertices = {{0, 0, 0}, {8, 0, 0}, {8, 0, -4}, {6, 0, -4}, {5, 0, -4}, {3, 0, -4}, {2, 0, -4}, {0, 0, -4}, {5, 0, -6}, {3, 0, -6}};
    mesh.start = {0, 8, 12};
    mesh.corners = {3, 4, 5, 6, 7, 0, 1, 2, 5, 4, 8, 9};
    constexpr FaceId kNone = nav::kNoFace;
    mesh.across = {kNone, FaceId{1}, kNone, kNone, kNone, kNone, kNone, kNone, FaceId{0}, kNone, kNone, kNone};
    mesh.area = {0, 0};
    nav::labelIslands(mesh);
    const route::Field field(mesh, {});
    route::SlopeSearch slopes(field);
    const Place start{FaceId{0}, {7.5, 0, -3.9}}, goal{FaceId{1}, {3.2, 0, -5.9}};
    const double least = std::hypot(7.5 - 5, 0.1) + std::hypot(5 - 3.2, 1.9);
    QVERIFY(std::abs(lengthOf(field, slopes.find(start, goal, 100, nullptr, false, 10000).way) - least) < 1e-9);
    prepare(field, Measure::space), prepare(field, Measure::plan);
    route::Search search(field, route::Answers::prepared);
    QVERIFY(std::abs(lengthOf(field, search.findInSpace(start, goal)) - least) < 1e-9);
    QVERIFY(std::abs(lengthOf(field, search.find(start, goal), Measure::plan) - least) < 1e-9);
  }

 private:
  static double overLinks(const route::Field& field, const Place& start, const Place& goal) {
    const nav::NavMesh& mesh = field.mesh();
    route::SlopeSearch slopes(field);
    const auto between = [&](const Place& a, const Place& b) { return lengthOf(field, shortest(slopes, a, b)); };
    struct Way {
      Place from, to;
      double cost;
    };
    std::vector<Way> ways;
    for (const nav::Link& l : mesh.links) {
      ways.push_back({{l.fromFace, l.from}, {l.toFace, l.to}, field.costOf(l)});
      if (!l.oneWay) ways.push_back({{l.toFace, l.to}, {l.fromFace, l.from}, field.costOf(l)});
    }
    std::vector<double> landed;
    for (const Way& w : ways) landed.push_back(between(start, w.from) + w.cost);
    for (std::size_t round = 0; round < ways.size(); ++round)
      for (std::size_t i = 0; i < ways.size(); ++i)
        for (std::size_t k = 0; k < ways.size(); ++k)
          if (i != k && round < 4) landed[k] = std::min(landed[k], landed[i] + between(ways[i].to, ways[k].from) + ways[k].cost);
    double least = between(start, goal);
    for (std::size_t i = 0; i < ways.size(); ++i) least = std::min(least, landed[i] + between(ways[i].to, goal));
    return least;
  }
};

QTEST_GUILESS_MAIN(TestPrepared)
#include "prepared.moc"
