#include <QtTest>

#include "tests/core/flows.h"
#include "tests/core/traces.h"

using namespace dune;
using test::Flow;
using test::Played;

namespace {

/// What holds in every scene; `most`: the mean time, as a multiple of the straight way's.
void check(const Flow& flow, double most, double seconds) {
  const Played o = test::play(flow);
  const std::string came = flow.name + text(": %zu of %zu, last %.1f s, mean %.2f, overlap %.4f, turns %.2f", o.arrived, o.all, o.last,
                                            o.meanRatio, o.deepest, o.turns);
  QVERIFY2(o.arrived == o.all && o.last <= seconds, came.c_str());
  QVERIFY2(o.meanRatio <= most && o.deepest <= 1e-3 && o.turns < 1, came.c_str());
}

}  // namespace

/// Crowds flow: everybody arrives, and not much later than alone.
class TestFlow : public QObject {
  Q_OBJECT

 private slots:
  void ringsSwap() {
    check(test::ringSwap(16, 8), 1.35, 40);
    check(test::ringSwap(64, 13), 2.0, 90);
  }
  void groupsMeetInHallsAndLanes() {
    check(test::meeting(20, 6, true), 1.4, 90);
    check(test::meeting(20, 2, true), 1.4, 90);
    check(test::meeting(20, 6, false), 3, 90);  // the last ones pass between those that stand at their goals
    check(test::meeting(20, 2, false), 6, 90);  // they have to change places
  }
  void doorsArePassed() {
    check(test::door(40, 0, 1.6), 4, 60);
    check(test::door(40, 0, 1.0), 5, 60);
    check(test::door(12, 12, 1.6), 5, 60);
    QVERIFY(test::play(test::door(40, 0, 1.6)).aSecond >= 1.2);
    QVERIFY(test::play(test::door(40, 0, 1.0)).aSecond >= 0.8);
  }
  void fieldsAreCrossed() {
    check(test::openField(150), 1.5, 120);
    check(test::pillars(200), 1.6, 90);
  }
  void aTargetIsStoodAround() {
    constexpr double kDensest = 6.1977;  // radii of the smallest circle that holds thirty (Graham & Lubachevsky 1998)
    const Flow flow = test::roundTarget(30);
    const Played o = test::play(flow);
    QVERIFY2(o.arrived == o.all && o.last < 30 && o.deepest <= 1e-3 && o.turns < 1, qPrintable(QString::number(o.last)));
    // Once there they close up, and then stand still.
    const route::Field field(flow.ground->mesh, {});
    const trace::Trace t = test::walked(field, flow.walkers, 60);
    const double radius = flow.walkers[0].radius;
    for (std::size_t i = 0; i < t.bodies().size(); ++i) {
      const trace::Sample last = t.at(t.frameCount() - 1, i), before = t.at(t.frameCount() - 150, i);
      const double out = glm::distance(last.at, flow.walkers[0].goal) + radius;
      QVERIFY2(last.state == crowd::State::arrived && out <= 1.3 * kDensest * radius, qPrintable(QString::number(out)));
      QVERIFY2(glm::distance(last.at, before.at) < 0.01, "it trembles");
    }
  }
  /// In a corridor there is no ring to stand in: they stand in rows, and stay.
  void aTargetInACorridorIsStoodBefore() {
    for (const double width : {1.2, 2.0, 3.0})
      for (const bool fromBoth : {false, true})
        for (const int count : {8, 24}) {
          Flow flow{text("%d to one place, %.1f m wide%s", count, width, fromBoth ? ", from both ends" : ""),
                    test::built(test::Scene().floor(0, 0, 60, width).world())};
          const int files = 1 + static_cast<int>((width - 0.8) / 0.9);
          for (int i = 0; i < count; ++i) {
            const bool fromRight = fromBoth && i % 2 != 0;
            const int k = fromBoth ? i / 2 : i;
            const double x = 1 + k / files, z = files > 1 ? 0.45 + (width - 0.9) * (k % files) / (files - 1) : width / 2;
            flow.walkers.push_back(test::walker(i + 1, {fromRight ? 59 - x : x, 0, z}, {40, 0, width / 2}));
          }
          flow.most = 150;
          const Played o = test::play(flow);
          const std::string came = flow.name + text(": %zu of %zu, last %.1f s, outermost %.2f", o.arrived, o.all, o.last, o.outermost);
          QVERIFY2(o.arrived == o.all && o.deepest <= 1e-3 && o.outermost <= 1.1 * (1 + count * 0.8 / files), came.c_str());
          const route::Field field(flow.ground->mesh, {});
          const trace::Trace t = test::walked(field, flow.walkers, o.last + 30);
          for (std::size_t i = 0; i < t.bodies().size(); ++i) {
            const trace::Sample last = t.at(t.frameCount() - 1, i), before = t.at(t.frameCount() - 150, i);
            QVERIFY2(last.state == crowd::State::arrived && glm::distance(last.at, before.at) < 0.05,
                     (flow.name + ": it trembles").c_str());
          }
        }
  }
  void corridorsOfAnyWidthLetBothSidesThrough() {
    for (std::uint64_t seed = 0; seed < 16; ++seed) check(test::twoRooms(seed), 12, 240);
  }
};

QTEST_APPLESS_MAIN(TestFlow)
#include "flow.moc"
