// Crowds that want to one place: all come as near as they let each other, wherever it is, and stay there.

#include <QtTest>

#include "tests/core/gatherings.h"

using namespace dune;
using test::Flow;
using test::Gathering;

namespace {

/// What they came to, once all were there and for some seconds more.
struct Settled {
  double last = -1;            // s, when all had arrived; below zero where they never had
  std::size_t setOut = 0;      // again, from then on
  double moved = 0;            // m, the farthest in the last seconds
  double farthest = 0;         // m from its goal
  double deepest = 0;          // m that two overlapped
  std::size_t there = 0, all;  // at the end
};

std::size_t countArrived(const crowd::Crowd& crowd) {
  return static_cast<std::size_t>(
      std::ranges::count_if(crowd.bodies(), [](const crowd::BodyState& b) { return b.state == crowd::State::arrived; }));
}

double overlapIn(const crowd::Crowd& crowd) {
  double deepest = 0;
  for (std::size_t i = 0; i < crowd.size(); ++i)
    for (std::size_t k = i + 1; k < crowd.size(); ++k)
      deepest = std::max(
          deepest, crowd.walker(i).radius + crowd.walker(k).radius - glm::distance(plan(crowd.bodies()[i].at), plan(crowd.bodies()[k].at)));
  return deepest;
}

Settled settle(const Flow& flow, double after) {
  const route::Field field(flow.ground->mesh, {});
  crowd::Crowd crowd = std::move(crowd::Crowd::make(field, flow.walkers, {}).value());
  ThreadedJob job;
  Settled s{.all = flow.walkers.size()};
  std::vector<Vec3> before;
  std::size_t all = 0;
  for (double end = flow.most; crowd.now() < end;) {
    crowd.step(job);
    const std::size_t there = countArrived(crowd);
    s.deepest = std::max(s.deepest, overlapIn(crowd));
    if (there == crowd.size() && s.last < 0) s.last = crowd.now(), end = s.last + after, all = there;
    if (s.last >= 0 && there < all) s.setOut += all - there;
    if (s.last >= 0) all = there;
    if (s.last >= 0 && before.empty() && crowd.now() > end - 3)
      for (const crowd::BodyState& b : crowd.bodies()) before.push_back(b.at);
  }
  for (std::size_t i = 0; i < crowd.size(); ++i) {
    const crowd::BodyState& b = crowd.bodies()[i];
    if (!before.empty()) s.moved = std::max(s.moved, glm::distance(before[i], b.at));
    s.farthest = std::max(s.farthest, glm::distance(b.at, crowd.walker(i).goal));
  }
  s.there = countArrived(crowd);
  return s;
}

}  // namespace

class TestGathering : public QObject {
  Q_OBJECT

 private slots:
  void allComeAndStay_data() {
    QTest::addColumn<int>("kind");
    for (int k = 0; k < static_cast<int>(test::kGatherings); ++k) QTest::newRow(test::gathering::name(static_cast<Gathering>(k))) << k;
  }
  /// Wherever the place is, whoever has a path to it arrives, and once all have nobody sets out again.
  void allComeAndStay() {
    QFETCH(int, kind);
    const bool bends = kind >= static_cast<int>(Gathering::farBehindBend);
    for (std::uint64_t seed = 1; seed <= 5; ++seed) {
      const Flow flow = test::gatheringOf(static_cast<Gathering>(kind), seed);
      const Settled s = settle(flow, 12);
      const std::string came = flow.name + text(": %zu of %zu, all at %.1f s, %zu set out again, moved %.2f m, farthest %.2f, overlap %.4f",
                                                s.there, s.all, s.last, s.setOut, s.moved, s.farthest, s.deepest);
      QVERIFY2(s.last > 0 && s.there == s.all && s.deepest < 4e-3, came.c_str());
      QVERIFY2(s.setOut == 0 && s.moved < 0.3, came.c_str());
      // In the open as a loose ring; else one behind the other at the worst.
      const double row = 0.8 * static_cast<double>(s.all), ring = 2.2 * 0.4 * std::sqrt(static_cast<double>(s.all) / 0.9) + 1;
      const bool wide = kind == static_cast<int>(Gathering::open) || kind == static_cast<int>(Gathering::crates);
      QVERIFY2(s.farthest < (wide ? ring : bends ? 1.2 * row + 2 : row + 1), came.c_str());
    }
  }
  /// Where one at a time goes through, those in the wrong order find a way round each other.
  void mazesLetEverybodyThrough() {
    for (const int seed : {0, 3, 7, 12, 21, 30}) {
      const Flow flow = test::maze(static_cast<std::uint64_t>(seed));
      const test::Played o = test::play(flow);
      QVERIFY2(o.arrived == o.all && o.outermost < 0.5 && o.deepest < 4e-3,
               (flow.name + text(": %zu of %zu, last %.0f s, %.2f m off", o.arrived, o.all, o.last, o.outermost)).c_str());
    }
  }
  /// Whoever wants to a place that cannot be reached comes to rest as near as the others let it, and says that it is not there.
  void whoCannotGetThereComesToRest() {
    Flow flow{"round a block", test::built(test::Scene().floor(0, 0, 30, 30).box({14, -1, 14}, {16, 1.5, 16}).world()), {}, 60};
    for (int i = 0; i < 12; ++i) flow.walkers.push_back(test::walker(i + 1, {3.0 + i % 4, 0, 3.0 + i / 4}, {15.1, 1.5, 14.9}));
    const route::Field field(flow.ground->mesh, {});
    crowd::Crowd crowd = std::move(crowd::Crowd::make(field, flow.walkers, {}).value());
    ThreadedJob job;
    while (crowd.now() < flow.most) crowd.step(job);
    std::vector<Vec3> before;
    for (const crowd::BodyState& b : crowd.bodies()) before.push_back(b.at);
    while (crowd.now() < flow.most + 5) crowd.step(job);
    for (std::size_t i = 0; i < crowd.size(); ++i) {
      const crowd::BodyState& b = crowd.bodies()[i];
      QVERIFY(b.state == crowd::State::stuck && b.at.y < 0.1 && glm::distance(plan(b.at), Vec2{15.1, -14.9}) < 4.5);
      QVERIFY2(glm::distance(before[i], b.at) < 0.05, text("%zu moved %g m", i, glm::distance(before[i], b.at)).c_str());
    }
  }
  /// A lane so full that who comes first is pushed from the place before it has arrived there.
  void whoIsHeldBesideItsPlaceHasArrived() {
    Flow flow{"a full lane", test::built(test::Scene().floor(0, 0, 30, 1.6).world()), {}, 120};
    for (int i = 0; i < 22; ++i) flow.walkers.push_back(test::walker(i + 1, {0.6 + 0.85 * i, 0, i % 2 == 0 ? 0.45 : 1.15}, {14, 0, 0.8}));
    const Settled s = settle(flow, 10);
    QVERIFY2(s.last > 0 && s.last < 25 && s.there == s.all, text("%zu of %zu, all at %.1f", s.there, s.all, s.last).c_str());
  }
};

QTEST_APPLESS_MAIN(TestGathering)
#include "gathering.moc"
