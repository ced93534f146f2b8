#include <QtTest>
#include <algorithm>
#include <numeric>
#include <set>

#include "core/base/least_cost_pairs.h"
#include "core/base/plan_geometry.h"
#include "core/crowd/lanes.h"
#include "core/crowd/shunting.h"
#include "core/crowd/steering_model.h"
#include "tests/core/flows.h"
#include "tests/core/traces.h"

using namespace dune;
using crowd::Shunted;
using crowd::Shunting;
using crowd::Yard;
using test::Flow;
using test::Scene;

namespace {

/// A body in the middle of a corridor that leads along x, or turned.
crowd::Body bodyAt(const nav::NavMesh& mesh, const Vec3& at, const Vec2& towards) {
  crowd::Body b;
  b.place = nav::Locator(mesh).nearest(at, 1);
  if (!b.place.valid())
    qFatal("no ground at %g %g of %zu %g", at.x, at.z, mesh.faceCount(), mesh.vertices.empty() ? 0 : mesh.vertices[0].x);
  b.wanted = towards;
  b.lane = crowd::laneAt(mesh, b, nullptr);
  return b;
}

Yard yardIn(const Scene& scene, const Vec3& at, const Vec2& towards) {
  const auto b = test::built(scene.world());
  return Yard::around(b->mesh, bodyAt(b->mesh, at, towards), 0.4, 40, nullptr);
}

/// Different places of a yard, by chance.
std::vector<std::uint32_t> someOf(const Yard& yard, std::size_t count, test::Random& random) {
  std::vector<std::uint32_t> all(yard.size());
  std::iota(all.begin(), all.end(), 0u);
  for (std::size_t i = 0; i < count; ++i)
    std::swap(all[i], all[i + static_cast<std::size_t>(random.upTo(static_cast<int>(all.size() - i)))]);
  all.resize(count);
  return all;
}

bool isBeside(const Yard& yard, std::uint32_t a, std::uint32_t b) { return std::ranges::find(yard.beside(a), b) != yard.beside(a).end(); }

/// What holds in every step; the reason why not.
std::string wrongIn(const Yard& yard, const std::vector<Shunted>& bodies, const Shunting& steps) {
  std::vector<std::uint32_t> now;
  for (const Shunted& b : bodies) now.push_back(b.from);
  for (const auto& next : steps) {
    std::set<std::uint32_t> taken;
    for (std::size_t i = 0; i < now.size(); ++i) {
      if (bodies[i].leaves && now[i] == bodies[i].to) now[i] = Yard::kNone;
      if (now[i] == Yard::kNone && next[i] != Yard::kNone) return "one who has left comes back";
      if (next[i] == Yard::kNone) continue;
      if (!taken.insert(next[i]).second) return "two in one place";
      if (next[i] != now[i] && !isBeside(yard, now[i], next[i])) return "one jumps";
      for (std::size_t k = 0; k < i; ++k)
        if (next[i] != now[i] && next[i] == now[k] && next[k] == now[i]) return "two change places";
    }
    now = next;
  }
  for (std::size_t i = 0; i < now.size(); ++i)
    if (now[i] != bodies[i].to && !(bodies[i].leaves && now[i] == Yard::kNone)) return "one is not where it wants";
  return "";
}

}  // namespace

/// Jams in corridors: places to be led over, and in which order.
class TestJams : public QObject {
  Q_OBJECT

 private slots:
  void pairsCostAsLittleAsCanBe() {
    test::Random random(11);
    for (int round = 0; round < 300; ++round) {
      const std::size_t rows = 1 + static_cast<std::size_t>(random.upTo(5)), columns = rows + static_cast<std::size_t>(random.upTo(3));
      std::vector<double> costs(rows * columns);
      for (double& c : costs) c = round % 3 == 0 ? random.upTo(4) : random.in(-5, 5);  // equal ones too
      const auto cost = [&](std::size_t r, std::size_t c) { return costs[r * columns + c]; };
      const auto pairs = leastCostPairs(rows, columns, cost);
      QCOMPARE(std::set<std::size_t>(pairs.begin(), pairs.end()).size(), rows);
      double sum = 0, least = INFINITY;
      for (std::size_t r = 0; r < rows; ++r) sum += cost(r, pairs[r]);
      std::vector<std::size_t> order(columns);
      std::iota(order.begin(), order.end(), std::size_t{0});
      do {
        double all = 0;
        for (std::size_t r = 0; r < rows; ++r) all += cost(r, order[r]);
        least = std::min(least, all);
      } while (std::ranges::next_permutation(order).found);
      QVERIFY2(std::abs(sum - least) < 1e-9, qPrintable(QString("%1 against %2").arg(sum).arg(least)));
    }
    QVERIFY(leastCostPairs(0, 3, [](std::size_t, std::size_t) { return 1.0; }).empty());
  }

  /// At any width and turn all places of a corridor are found, and bodies that go round a corner after each other do not touch.
  void yardsFillCorridors() {
    test::Random random(5);
    for (int round = 0; round < 40; ++round) {
      const double width = random.in(1.9, 6), turn = random.in(0, 2 * kPi);
      const Vec3 middle{std::cos(turn) * 15 + std::sin(turn) * width / 2, 0, -std::sin(turn) * 15 + std::cos(turn) * width / 2};
      const double askew = random.in(-0.4, 0.4);
      const Yard yard = yardIn(Scene().floor(0, 0, 30, width).turned(turn), middle, {std::cos(turn + askew), std::sin(turn + askew)});
      QVERIFY(yard.hasRoom() && yard.size() > 0);
      double length = INFINITY, across = INFINITY;
      for (std::uint32_t i = 0; i < yard.size(); ++i)
        for (std::size_t k = 0; k < 4; ++k)
          if (const std::uint32_t next = yard.beside(i)[k]; next != Yard::kNone)
            (k < 2 ? length : across) = glm::distance(yard.at(i), yard.at(next));
      QVERIFY(length * across / std::hypot(length, across) >= 0.8);
      const double files = std::round((width - 0.82) / across) + 1, columns = std::floor(29.2 / length);
      QVERIFY2(std::abs(across * (files - 1) - (width - 0.82)) < 1e-3, "the files reach from wall to wall");
      QVERIFY2(static_cast<double>(yard.size()) >= files * columns - 1e-9,
               qPrintable(QString("%1 of %2").arg(yard.size()).arg(files * columns)));
    }
  }

  /// A yard goes around pillars and into rooms; what lies above it is not of it.
  void yardsAreOfOneGround() {
    const Yard yard = yardIn(Scene().floor(0, 0, 20, 4).box({8, -1, 1.5}, {9, 3, 2.5}).floor(20, -5, 30, 9).floor(0, 0, 20, 4, 5, "upper"),
                             {4, 0, 2}, {1, 0});
    QVERIFY(yard.placeOf({28, 0, -3}) != Yard::kNone && yard.placeOf({12, 0, 2}) != Yard::kNone);
    QCOMPARE(yard.placeOf({12, 5, 2}), Yard::kNone);
    QCOMPARE(yard.placeOf({12, 0, 8}), Yard::kNone);
    for (std::uint32_t i = 0; i < yard.size(); ++i) {
      const Vec3 at = lift(yard.at(i), 0);
      QVERIFY(at.x < 7.61 || at.x > 9.39 || at.z < 1.11 || at.z > 2.89);
      for (const std::uint32_t next : yard.beside(i)) QVERIFY(next == Yard::kNone || isBeside(yard, next, i));
    }
  }

  /// Random orders in corridors, around pillars and in rooms with a door, up to three quarters full.
  void everybodyIsBroughtWhereItWants() {
    test::Random random(3);
    const Yard yards[] = {
        yardIn(Scene().floor(0, 0, 24, 2), {12, 0, 1}, {1, 0}), yardIn(Scene().floor(0, 0, 16, 4), {3, 0, 2}, {1, 0}),
        yardIn(Scene().floor(0, 0, 20, 5).box({6, -1, 2}, {8, 3, 3}).box({12, -1, 1.8}, {13, 3, 3.2}), {3, 0, 2.5}, {1, 0}),
        yardIn(Scene().floor(0, 0, 12, 3).floor(12, -4, 20, 8), {3, 0, 1.5}, {1, 0})};
    for (const Yard& yard : yards)
      for (int round = 0; round < 12; ++round) {
        const auto count = static_cast<std::size_t>(random.in(0.1, 0.6) * static_cast<double>(yard.size()));
        const auto from = someOf(yard, count, random), to = someOf(yard, count, random);
        std::vector<Shunted> bodies;
        for (std::size_t i = 0; i < count; ++i) bodies.push_back({from[i], to[i], random.upTo(4) == 0});
        const auto steps = crowd::shunt(yard, bodies);
        QVERIFY2(steps, qPrintable(QString("%1 in %2").arg(count).arg(yard.size())));
        QCOMPARE(wrongIn(yard, bodies, *steps), std::string());
        QCOMPARE(*crowd::shunt(yard, bodies), *steps);
      }
  }
  void whatCannotBeIsSaid() {
    const Yard file = yardIn(Scene().floor(0, 0, 12, 1.2), {6, 0, 0.6}, {1, 0});
    QVERIFY(!file.hasRoom() && file.size() > 4);
    std::uint32_t ahead = 0;
    for (const std::uint32_t next : file.beside(0)) ahead = next != Yard::kNone ? next : ahead;
    QVERIFY(!crowd::shunt(file, std::vector<Shunted>{{0, ahead, false}, {ahead, 0, false}}));  // nobody passes there
    QCOMPARE(crowd::shunt(file, std::vector<Shunted>{{ahead, ahead, false}})->size(), std::size_t{0});
  }

  /// In a file with a room at one end alone, any order of five is brought about: those in the way go back together to where there is room.
  void filesAreSortedThroughTheRoomAtTheirEnd() {
    const Yard yard = yardIn(Scene().floor(0, 0, 12, 1.2).floor(12, -2, 16, 3.2), {6, 0, 0.6}, {1, 0});
    std::vector<std::uint32_t> file;
    for (double x = 0.6; x < 9; x += 0.05)
      if (const std::uint32_t place = yard.placeOf({x, 0, 0.6}); file.empty() || file.back() != place) file.push_back(place);
    QVERIFY(file.size() >= 6);
    test::Random random(7);
    for (int round = 0; round < 40; ++round) {
      std::vector<std::uint32_t> to(file.begin(), file.begin() + 5);
      for (std::size_t i = to.size(); i > 1; --i) std::swap(to[i - 1], to[static_cast<std::size_t>(random.upTo(static_cast<int>(i)))]);
      std::vector<Shunted> bodies;
      for (std::size_t i = 0; i < to.size(); ++i) bodies.push_back({file[i], to[i], false});
      const auto steps = crowd::shunt(yard, bodies);
      QVERIFY2(steps, qPrintable(QString::number(round)));
      QCOMPARE(wrongIn(yard, bodies, *steps), std::string());
    }
  }
  /// Who comes first stands before the places of those behind it, at any density and width.
  void lanesAreSorted() {
    for (const double width : {2.0, 2.5, 3.0, 4.0})
      for (const int each : {10, 20}) {
        const test::Played o = test::play(test::meeting(each, width, false));
        QVERIFY2(o.arrived == o.all && o.last <= 110 && o.deepest <= 1e-3,
                 qPrintable(QString("%1 in %2 m: %3, %4 s").arg(each).arg(width).arg(o.arrived).arg(o.last)));
      }
  }
  /// Places by chance, a body to one and a half square metres and less.
  void crowdedCorridorsComeRight() {
    int rounds = 0;
    for (std::uint64_t seed = 0; seed < 12; ++seed) {
      test::Random random(seed + 1);
      const double width = random.in(1.9, 4), length = random.in(16, 40), turn = random.in(0, 2 * kPi);
      Flow flow{text("%d", static_cast<int>(seed)), test::built(Scene().floor(0, 0, length, width).turned(turn).world()), {}, 200};
      const auto turned = [&](const Vec3& v) {
        return Vec3{std::cos(turn) * v.x + std::sin(turn) * v.z, 0, -std::sin(turn) * v.x + std::cos(turn) * v.z};
      };
      std::vector<Vec3> starts, goals;
      const auto add = [&](std::vector<Vec3>& to, double first, double last) {
        for (int tries = 0; tries < 2000; ++tries) {
          const Vec3 p{random.in(first, last), 0, random.in(0.42, width - 0.42)};
          if (std::ranges::all_of(to, [&](const Vec3& q) { return glm::distance(p, q) > 0.82; })) return void(to.push_back(p));
        }
        to.push_back({-1, 0, 0});  // full
      };
      for (int i = 0; i < width * length / 3; ++i) {
        const bool back = i % 2 != 0;
        add(starts, back ? length * 0.55 : 0.42, back ? length - 0.42 : length * 0.45);
        add(goals, back ? 0.42 : length * 0.55, back ? length * 0.45 : length - 0.42);
      }
      for (std::size_t i = 0; i < starts.size(); ++i)
        if (starts[i].x > 0 && goals[i].x > 0)
          flow.walkers.push_back(test::walker(static_cast<int>(i) + 1, turned(starts[i]), turned(goals[i])));
      const test::Played o = test::play(flow);
      QVERIFY2(o.arrived == o.all && o.deepest <= 1e-3, qPrintable(QString("%1: %2 of %3").arg(seed).arg(o.arrived).arg(o.all)));
      rounds += o.all > 10;
    }
    QVERIFY(rounds >= 10);
  }

  /// While bodies are led, too: the same for any number of threads, and a copy goes on as the crowd itself does.
  void sameForAnyThreadsAndCopies() {
    Flow flow = test::meeting(14, 2, false);
    const double far = 200;  // more that only stand, so that threads share the work
    flow.ground = test::built(Scene().floor(0, 0, 36, 2).floor(far, 0, far + 30, 30).world());
    for (int i = 0; i < 120; ++i) {
      const Vec3 at{far + 1 + i % 12 * 2, 0, 1 + i / 12 * 2.0};
      flow.walkers.push_back(test::walker(5000 + i, at, at));
    }
    const route::Field field(flow.ground->mesh, {});
    const trace::Trace one = test::walked(field, flow.walkers, 40, 1), two = test::walked(field, flow.walkers, 40, 2);
    const auto first = test::samplesOf(one), second = test::samplesOf(two);
    QVERIFY(!first.empty());
    QVERIFY(std::ranges::equal(first, second, [](const trace::Sample& a, const trace::Sample& b) {
      return a.at == b.at && a.velocity == b.velocity && a.state == b.state;
    }));
    auto crowd = crowd::Crowd::make(field, flow.walkers, {});
    ThreadedJob job;
    while (crowd->now() < 33.4) crowd->step(job);
    crowd::Crowd copy = crowd->copy();
    std::size_t led = 0;
    for (int i = 0; i < 150; ++i) {
      const crowd::Insight said = crowd->insight(static_cast<std::size_t>(i % 28));
      led += said.ledTo.has_value();
      if (said.ledTo) QVERIFY(said.heeded.empty() && glm::distance(said.wanted, said.decided) < 1e-9);
      crowd->step(job), copy.step(job);
    }
    QVERIFY(led > 100);
    for (std::size_t i = 0; i < crowd->size(); ++i) QCOMPARE(crowd->bodies()[i].at, copy.bodies()[i].at);
  }
};

QTEST_APPLESS_MAIN(TestJams)
#include "jams.moc"
