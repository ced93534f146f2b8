// The predicates are exact: near-degenerate cases that floating point gets wrong.

#include <QtTest>

#include "core/base/lattice.h"
#include "tests/core/scenes.h"

using namespace dune;

class TestLattice : public QObject {
  Q_OBJECT

 private slots:
  void metresAndBackLoseNothing() {
    for (std::int64_t u : {0LL, 1LL, -1LL, 12345678LL, -67108863LL}) QCOMPARE(toLattice(toPlan({u, -u})).u, u);
  }
  void orientationIsExactFarFromTheOrigin() {
    const std::int64_t big = kLatticeMax - 10;
    QCOMPARE(orientation({-big, -big}, {big, big}, {0, 0}), 0);
    QCOMPARE(orientation({-big, -big}, {big, big}, {0, 1}), 1);
    QCOMPARE(orientation({-big, -big}, {big, big}, {1, 0}), -1);
    QCOMPARE(orientation({-big, -big}, {big, big - 1}, {0, 0}), 1);
  }
  void inCircleIsExact() {
    const std::int64_t r = kLatticeMax / 2;
    QCOMPARE(inCircle({r, 0}, {0, r}, {-r, 0}, {0, -r}), 0);
    QCOMPARE(inCircle({r, 0}, {0, r}, {-r, 0}, {0, -r + 1}), 1);
    QCOMPARE(inCircle({r, 0}, {0, r}, {-r, 0}, {0, -r - 1}), -1);
  }
  void orientationLaws() {
    for (std::uint64_t seed = 0; seed < 200; ++seed) {
      test::Random random(seed);
      auto point = [&] { return LatticePoint{random.upTo(2000) - 1000, random.upTo(2000) - 1000}; };
      const LatticePoint a = point(), b = point(), c = point(), d = point();
      QCOMPARE(orientation(a, b, c), orientation(b, c, a));
      QCOMPARE(orientation(a, b, c), -orientation(b, a, c));
      QCOMPARE(properlyCross(a, b, c, d), properlyCross(c, d, a, b));
      if (!properlyCross(a, b, c, d)) continue;
      const LatticePoint x = crossing(a, b, c, d), y = crossing(c, d, b, a);
      QVERIFY(std::abs(x.u - y.u) <= 1 && std::abs(x.v - y.v) <= 1);
    }
  }
};

QTEST_APPLESS_MAIN(TestLattice)
#include "lattice.moc"
