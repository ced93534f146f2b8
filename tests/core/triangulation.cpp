// The constrained triangulation on hostile random input: structure, constraints, the Delaunay property.

#include "core/generate/triangulation.h"

#include <QtTest>

#include "tests/core/scenes.h"

using namespace dune;
using generate::Triangulation;

class TestTriangulation : public QObject {
  Q_OBJECT

  static bool whole(const Triangulation& t) {
    std::int64_t area = 0;
    for (std::size_t i = 0; i < t.triangles().size(); ++i) {
      const auto& tri = t.triangles()[i];
      const auto &a = t.points()[tri.v[0]], &b = t.points()[tri.v[1]], &c = t.points()[tri.v[2]];
      if (orientation(a, b, c) <= 0) return false;
      area += (b.u - a.u) * (c.v - a.v) - (b.v - a.v) * (c.u - a.u);
      for (std::size_t e = 0; e < 3; ++e) {
        if (tri.n[e] == Triangulation::kOutside) continue;
        const auto& other = t.triangles()[static_cast<std::size_t>(tri.n[e])];
        bool mutual = false;
        for (std::size_t k = 0; k < 3; ++k)
          mutual |= other.n[k] == static_cast<std::int32_t>(i) && other.v[k] == tri.v[(e + 1) % 3] && other.v[(k + 1) % 3] == tri.v[e] &&
                    other.fixed[k] == tri.fixed[e];
        if (!mutual) return false;
      }
    }
    const LatticePoint size{t.points()[2].u - t.points()[0].u, t.points()[2].v - t.points()[0].v};
    return area == 2 * size.u * size.v;  // the triangles fill the rectangle exactly, with no overlap
  }
  static bool delaunay(const Triangulation& t) {
    for (const auto& tri : t.triangles())
      for (std::size_t e = 0; e < 3; ++e) {
        if (tri.n[e] == Triangulation::kOutside || tri.fixed[e]) continue;
        for (const std::uint32_t v : t.triangles()[static_cast<std::size_t>(tri.n[e])].v)
          if (inCircle(t.points()[tri.v[0]], t.points()[tri.v[1]], t.points()[tri.v[2]], t.points()[v]) > 0) return false;
      }
    return true;
  }

 private slots:
  void randomPointsGiveADelaunayTriangulation() {
    for (std::uint64_t seed = 0; seed < 40; ++seed) {
      test::Random random(seed);
      const int span = seed % 2 ? 30 : 5000;  // a small span makes many points coincide and lie on lines
      Triangulation t({-span - 5, -span - 5}, {span + 5, span + 5});
      for (int i = 0; i < 150; ++i) t.insert({random.upTo(2 * span) - span, random.upTo(2 * span) - span});
      QVERIFY2(whole(t) && delaunay(t), qPrintable(QString::number(seed)));
    }
  }
  void randomConstraintsThatCrossKeepTheStructure() {
    for (std::uint64_t seed = 0; seed < 60; ++seed) {
      test::Random random(seed);
      const int span = seed % 3 == 0 ? 12 : seed % 3 == 1 ? 200 : 20000;
      Triangulation t({-span - 5, -span - 5}, {span + 5, span + 5});
      auto point = [&] { return LatticePoint{random.upTo(2 * span) - span, random.upTo(2 * span) - span}; };
      for (int i = 0; i < 40; ++i) t.constrain(point(), point(), static_cast<std::uint8_t>(1 << (i % 3)));
      QVERIFY2(whole(t), qPrintable(QString::number(seed)));
      QVERIFY2(delaunay(t), qPrintable(QString::number(seed)));
    }
  }
  void constraintWithoutCrossingIsAnEdge() {
    for (std::uint64_t seed = 0; seed < 30; ++seed) {
      test::Random random(seed);
      Triangulation t({-1000, -1000}, {1000, 1000});
      for (int i = 0; i < 100; ++i) t.insert({random.upTo(1800) - 900, random.upTo(1800) - 900});
      const LatticePoint a{-950, random.upTo(1000) - 500}, b{951, random.upTo(1000) - 500};
      t.constrain(a, b, 1);
      // The fixed edges make up ab: all on its line, lengths in u add up.
      std::int64_t covered = 0;
      for (const auto& tri : t.triangles())
        for (std::size_t e = 0; e < 3; ++e) {
          const auto &p = t.points()[tri.v[e]], &q = t.points()[tri.v[(e + 1) % 3]];
          if (!tri.fixed[e] || q.u < p.u) continue;
          QVERIFY(onSegment(a, b, p) && onSegment(a, b, q));
          covered += q.u - p.u;
        }
      QCOMPARE(covered, b.u - a.u);
    }
  }
  void locateFindsAHoldingTriangle() {
    test::Random random(7);
    Triangulation t({-1000, -1000}, {1000, 1000});
    for (int i = 0; i < 30; ++i)
      t.constrain({random.upTo(1800) - 900, random.upTo(1800) - 900}, {random.upTo(1800) - 900, random.upTo(1800) - 900}, 1);
    std::int32_t hint = 0;
    for (int i = 0; i < 300; ++i) {
      const LatticePoint p{random.upTo(1900) - 950, random.upTo(1900) - 950};
      hint = t.locate(p, hint);
      for (int e = 0; e < 3; ++e) QVERIFY(orientation(t.corner(hint, e), t.corner(hint, e + 1), p) >= 0);
    }
  }
};

QTEST_APPLESS_MAIN(TestTriangulation)
#include "triangulation.moc"
