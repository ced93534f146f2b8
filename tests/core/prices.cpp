// What a path is paid for, stretch by stretch, and what decides between two.

#include <QtTest>

#include "core/links/attach.h"
#include "core/route/path.h"
#include "tests/core/scenes.h"

using namespace dune;
using route::PathStatus;
using test::Random;
using test::Scene;

class TestPrices : public QObject {
  Q_OBJECT

  struct Ready {
    nav::NavMesh mesh;
    std::unique_ptr<route::Field> field;
    std::unique_ptr<route::Search> search;
    route::PathAnswer path(const Vec3& from, const Vec3& to) const { return route::findPath(*field, *search, from, to); }
    route::PathAnswer through(const std::vector<Vec3>& places) const { return route::findPathThrough(*field, *search, places); }
  };
  static std::unique_ptr<Ready> ready(const level::World& world, const std::vector<links::HandLink>& drawn = {}) {
    auto r = std::make_unique<Ready>();
    const auto b = test::built(world);
    r->mesh = b->mesh;
    r->mesh.agent.maxJump = r->mesh.agent.maxDrop = 20;
    r->mesh.links = links::attach(r->mesh, nav::Locator(r->mesh), drawn).links;
    r->field = std::make_unique<route::Field>(r->mesh, b->rules());
    r->search = std::make_unique<route::Search>(*r->field);
    return r;
  }
  static level::World bands(Random& random) {
    level::World world = Scene().floor(0, 0, 24, 12).ramp(24, 0, 30, 12, 0, 2).floor(30, 0, 40, 12, 2, "top").world();
    world.kinds.push_back({"brine", "#333333", 3, 2, false});
    world.kinds.push_back({"paved", "#333333", 0.5, 0, false});
    for (int i = 0; i < 4; ++i) {
      const double x = random.in(1, 30), w = random.in(1, 5);
      world.volumes.push_back({i + 1, i % 2 ? "brine" : "paved", {{x, -13}, {x + w, -13}, {x + w, 1}, {x, 1}}, -1, 5});
    }
    return world;
  }

 private slots:
  void stretchesComeToTheWhole() {
    for (std::uint64_t seed = 1; seed <= 12; ++seed) {
      Random random(seed);
      const auto r = ready(bands(random), {{7, nav::LinkKind::climb, {10, 0, 2}, {36, 2, 2}, false, 1}});
      for (int i = 0; i < 20; ++i) {
        const auto a = r->path({random.in(0, 40), 0, random.in(0, 12)}, {random.in(0, 40), 2, random.in(0, 12)});
        if (a.status != PathStatus::complete) continue;
        double length = 0, cost = 0;
        Vec3 at = a.points.front();
        for (const route::Stretch& s : a.stretches) {
          length += s.length, cost += s.cost + s.entry;
          QVERIFY(glm::distance(s.from, at) < 1e-9);
          at = s.to;
          QVERIFY(s.first <= s.last && s.last < a.points.size());
          if (s.link < 0) QVERIFY(std::abs(s.cost - s.length * r->field->rules().of(s.kind).cost) < 1e-9);
        }
        QVERIFY(glm::distance(at, a.points.back()) < 1e-9);
        QVERIFY2(std::abs(cost - a.cost) < 1e-9, qPrintable(QStringLiteral("%1 against %2").arg(cost).arg(a.cost)));
        QVERIFY(std::abs(length - a.length) < 1e-2);  // points are left out where the way is as good as straight
      }
    }
  }
  void oneStretchAKind() {
    level::World world = Scene().floor(0, 0, 20, 6).world();
    world.kinds.push_back({"ditch", "#333333", 2, 5, false});
    world.volumes.push_back({1, "ditch", {{9, -10}, {11, -10}, {11, 5}, {9, 5}}, -1, 1});
    const auto a = ready(world)->path({2, 0, 3}, {18, 0, 3});
    QCOMPARE(a.stretches.size(), std::size_t{3});
    QVERIFY(a.stretches[0].entry == 0 && a.stretches[1].entry == 5 && a.stretches[2].entry == 0);
    QVERIFY(std::abs(a.stretches[1].length - 2) < 1e-6 && std::abs(a.stretches[1].cost - 4) < 1e-6);
  }
  void steepestAndSharpestAreWhereTheyAre() {
    Random random(1);
    const auto r =
        ready(Scene().floor(0, 0, 24, 12).ramp(24, 0, 30, 12, 0, 2).floor(30, 0, 40, 12, 2, "top").box({10, -1, -1}, {11, 3, 9}).world());
    const auto a = r->path({2, 0, 2}, {38, 2, 2});
    const double ramp = degrees(std::atan2(2, 6));  // straight up; the way goes a little across
    QVERIFY2(a.steepest > ramp - 1 && a.steepest < ramp + 0.1, qPrintable(QString::number(a.steepest)));
    QVERIFY(a.steepestAt.x > 23.5 && a.steepestAt.x < 30.5);
    QVERIFY2(a.sharpestTurn > 5 && std::abs(a.sharpestAt.x - 10.5) < 1.5,
             qPrintable(QStringLiteral("%1 at %2").arg(a.sharpestTurn).arg(a.sharpestAt.x)));
    double sharpest = 0;
    for (std::size_t i = 1; i + 1 < a.points.size(); ++i) {
      const Vec2 in = plan(a.points[i] - a.points[i - 1]), out = plan(a.points[i + 1] - a.points[i]);
      const double turn = degrees(std::acos(std::clamp(glm::dot(in, out) / glm::length(in) / glm::length(out), -1.0, 1.0)));
      sharpest = std::max(sharpest, turn);
    }
    QVERIFY(std::abs(sharpest - a.sharpestTurn) < 1e-3);
  }
  void throughPlacesIsPartByPart() {
    Random random(3);
    const auto r = ready(bands(random));
    for (int i = 0; i < 20; ++i) {
      const Vec3 a{random.in(1, 23), 0, random.in(1, 11)}, b{random.in(1, 23), 0, random.in(1, 11)},
          c{random.in(31, 39), 2, random.in(1, 11)};
      const auto all = r->through({a, b, c}), first = r->path(a, b), second = r->path(b, c);
      QVERIFY(all.status == PathStatus::complete);
      QVERIFY(std::abs(all.cost - first.cost - second.cost) < 1e-9 && std::abs(all.length - first.length - second.length) < 1e-9);
      QCOMPARE(all.points.size(), first.points.size() + second.points.size() - 1);
      QVERIFY(all.cost >= r->path(a, c).cost * (1 - 0.01));
      QCOMPARE(all.narrowest, std::min(first.narrowest, second.narrowest));
    }
    const auto stopped = r->through({{2, 0, 2}, {5, 0, 30}, {20, 0, 2}});
    QVERIFY(stopped.status == PathStatus::partial && !stopped.note.empty());
    QVERIFY(r->through({{200, 0, 2}, {5, 0, 3}}).status == PathStatus::none);
  }
  void whatDecidesIsNamed() {
    level::World world = Scene().floor(0, 0, 20, 12).world();
    world.kinds.push_back({"brine", "#333333", 5, 4, false});
    world.volumes.push_back({1, "brine", {{8, -8}, {10, -8}, {10, 1}, {8, 1}}, -1, 1});
    const auto r = ready(world);
    const Vec3 from{2, 0, 3}, to{18, 0, 3};
    const auto found = r->path(from, to), straight = r->through({from, {8.5, 0, 3}, to});
    QVERIFY(straight.cost > found.cost + 1);
    const std::string why = route::whatDecides(found, straight, r->mesh);
    QVERIFY2(why.find("2.0 m more of brine at 5.00 a metre") != std::string::npos && why.find("4.00 to enter brine") != std::string::npos,
             why.c_str());
    QVERIFY(route::whatDecides(found, found, r->mesh).find("cost the same") != std::string::npos);
    QVERIFY(route::whatDecides(straight, found, r->mesh).find("less: this one has 2.0 m more of brine") != std::string::npos);
    QVERIFY(route::whatDecides(found, r->through({from, {5, 0, 40}, to}), r->mesh).find("does not get there") != std::string::npos);
  }
};

QTEST_APPLESS_MAIN(TestPrices)
#include "prices.moc"
