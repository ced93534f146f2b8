// The border against exact answers: rooms offset by Clipper, and the distance that every corner keeps.

#include <QtTest>
#include <polyclipping/clipper.hpp>

#include "core/base/plan_geometry.h"
#include "core/generate/outline.h"
#include "tests/core/scenes.h"

using namespace dune;
using test::built;
using test::Scene;

class TestOutline : public QObject {
  Q_OBJECT

  static constexpr double kScale = 1e6;  // of Clipper's integers

  /// The exact area of a square of `size` less boxes grown by r, and less a border of r.
  static double exactArea(double size, const std::vector<std::array<Vec2, 4>>& boxes, double r) {
    using namespace ClipperLib;
    auto path = [](const auto& corners) {
      Path p;
      for (const Vec2& c : corners) p.emplace_back(std::llround(c.x * kScale), std::llround(c.y * kScale));
      if (!Orientation(p)) ReversePath(p);
      return p;
    };
    Paths obstacles;
    for (const auto& b : boxes) obstacles.push_back(path(b));
    Clipper unite;
    unite.AddPaths(obstacles, ptSubject, true);
    Paths united;
    unite.Execute(ctUnion, united, pftNonZero, pftNonZero);
    ClipperOffset offset(2, 1e-4 * kScale);
    offset.AddPaths(united, jtRound, etClosedPolygon);
    Paths grown;
    offset.Execute(grown, r * kScale);
    Clipper cut;
    cut.AddPath(path(std::array<Vec2, 4>{{{r, -r}, {size - r, -r}, {size - r, r - size}, {r, r - size}}}), ptSubject, true);
    cut.AddPaths(grown, ptClip, true);
    Paths free;
    cut.Execute(ctDifference, free, pftNonZero, pftNonZero);
    double area = 0;
    for (const Path& p : free) area += Area(p);
    return area / kScale / kScale;
  }

  /// The least distance of the border of a mesh to its limits, asked at and between its corners.
  static double nearestToALimit(const generate::Built& b) {
    double least = 10;
    for (std::uint32_t f = 0; f < b.mesh.faceCount(); ++f)
      for (std::size_t i = 0, n = b.mesh.cornerCount(nav::FaceId{f}); i < n; ++i) {
        if (b.mesh.acrossOf(nav::FaceId{f})[i] != nav::kNoFace) continue;
        const Vec3 &p = b.mesh.cornerAt(nav::FaceId{f}, i), &q = b.mesh.cornerAt(nav::FaceId{f}, (i + 1) % n);
        for (const double t : {0.0, 0.25, 0.5, 0.75, 1.0})
          if (const auto near = b.clearance.nearest(plan(glm::mix(p, q, t)), glm::mix(p.y, q.y, t), 2))
            least = std::min(least, near->distance);
      }
    return least;
  }

 private slots:
  void randomRoomsCoverWhatTheyShould_data() {
    QTest::addColumn<quint64>("seed");
    for (quint64 s = 0; s < 16; ++s) QTest::addRow("seed %d", static_cast<int>(s)) << s;
  }
  void randomRoomsCoverWhatTheyShould() {
    QFETCH(quint64, seed);
    test::Random random(seed);
    constexpr double kSize = 20;
    Scene scene;
    scene.floor(0, 0, kSize, kSize);
    std::vector<std::array<Vec2, 4>> boxes;
    for (int i = 0; i < 7; ++i) {
      // Boxes at any angle; tall and deep, so that only their plan counts.
      const Vec3 centre{random.in(3, 17), 0, random.in(3, 17)};
      const double w = random.in(0.2, 2), d = random.in(0.2, 2), angle = random.in(0, 3);
      Scene one;
      one.box({-w, -1, -d}, {w, 3, d}).turned(angle, centre);
      const level::World boxed = one.world();
      const level::Object& o = boxed.level->objects[0];
      std::array<Vec2, 4> corners{plan(o.vertices[0]), plan(o.vertices[1]), plan(o.vertices[5]), plan(o.vertices[4])};
      boxes.push_back(corners);
      scene.quad(o.vertices[0], o.vertices[2], o.vertices[3], o.vertices[1], "w" + std::to_string(i));
      scene.quad(o.vertices[1], o.vertices[3], o.vertices[7], o.vertices[5], "x" + std::to_string(i));
      scene.quad(o.vertices[5], o.vertices[7], o.vertices[6], o.vertices[4], "y" + std::to_string(i));
      scene.quad(o.vertices[4], o.vertices[6], o.vertices[2], o.vertices[0], "z" + std::to_string(i));
    }
    const auto b = built(scene.world());
    // Boxes are open here, so the ground inside them is there too; count only what the middle of the room reaches.
    double area = 0;
    for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f) {
      Vec2 c{0};
      for (const std::uint32_t v : b->mesh.cornersOf(nav::FaceId{f})) c += plan(b->mesh.vertices[v]);
      c /= static_cast<double>(b->mesh.cornerCount(nav::FaceId{f}));
      const bool inside = std::ranges::any_of(boxes, [&](const auto& box) { return contains(box, c); });
      if (!inside) area += nav::faceArea(b->mesh, nav::FaceId{f});
    }
    const double exact = exactArea(kSize, boxes, b->agent.radius);
    QVERIFY2(area >= 0.995 * exact, qPrintable(QStringLiteral("covered %1 of %2").arg(area).arg(exact)));
    QVERIFY2(area <= 1.0005 * exact, qPrintable(QStringLiteral("covered %1 of %2").arg(area).arg(exact)));
  }
  void borderIsNeverNearerThanTheRadius_data() {
    QTest::addColumn<bool>("sameHeight");
    QTest::newRow("tops apart") << false;
    QTest::newRow("tops at one height, overlapping") << true;
  }
  void borderIsNeverNearerThanTheRadius() {
    QFETCH(bool, sameHeight);
    for (std::uint64_t seed = 0; seed < 60; ++seed) {
      test::Random random(seed + 100);
      Scene scene;
      scene.floor(0, 0, 12, 12);
      for (int i = 0; i < 5; ++i) {
        const Vec3 a{random.in(0, 10), -0.5, random.in(0, 10)};
        scene.box(a, a + Vec3{random.in(0.1, 3), sameHeight ? 3 : random.in(2.6, 4), random.in(0.1, 3)});
      }
      const auto b = built(scene.turned(random.in(0, 6)).world());
      const double least = nearestToALimit(*b);
      QVERIFY2(least >= b->agent.radius - 0.005, qPrintable(QStringLiteral("seed %1: %2 m").arg(seed).arg(least)));
    }
  }
  /// Walls on one line but for a few tenths of a millimetre, as levels of many parts have them: whatever gives way to what, the border
  /// stays closed. Each may be on one line with the next, and the first not with the last.
  void wallsOnNearlyOneLineKeepTheirBorder() {
    constexpr double kRadius = 1;
    for (std::uint64_t seed = 1; seed <= 300; ++seed) {
      test::Random random(seed);
      std::vector<ground::Limit> limits;
      const double turn = random.in(0, 6);
      const Vec2 along{std::cos(turn), std::sin(turn)};
      for (int i = 0, n = 3 + random.upTo(4); i < n; ++i) {
        const double from = random.in(-4, 3), to = random.in(from + 0.2, 5);
        const auto at = [&](double t) { return along * t + leftOf(along) * random.in(-4e-4, 4e-4); };
        limits.push_back({ground::LimitKind::wall, at(from), at(to), 0, 0, 0, 0});
      }
      const auto grown = generate::growLimits(limits, kRadius, 0.006);
      Box2 within;
      within.add({-10, -10}), within.add({10, 10});
      const auto pieces = generate::outlinePieces(limits, grown, 1.8, within, Job());
      QVERIFY(pieces);
      const auto distance = [&](const Vec2& p) {
        double least = 1e9;
        for (const ground::Limit& l : limits) least = std::min(least, distanceToSegment(l.a, l.b, p));
        return least;
      };
      const auto crosses = [&](const Vec2& p, const Vec2& q) {
        return std::ranges::any_of(*pieces, [&](const generate::OutlinePiece& piece) {
          const Vec2 longer = glm::normalize(piece.b - piece.a) * 1e-3;
          const auto t = crossingParameter(p, q, piece.a - longer, piece.b + longer);
          return t && *t >= 0 && *t <= 1;
        });
      };
      for (int i = 0; i < 100; ++i) {
        const Vec2 in = along * random.in(-5, 6) + leftOf(along) * random.in(0.05, 0.9), out = in + leftOf(along) * random.in(0.2, 3);
        if (distance(in) > kRadius - 0.02 || distance(out) < kRadius + 0.02) continue;
        QVERIFY2(crosses(in, out), qPrintable(QStringLiteral("seed %1, %2").arg(seed).arg(i)));
      }
    }
  }
  /// A gap that narrows to a tip no wider than what is joined: right beyond it no body stands, as around its sides.
  void beyondTheTipOfAGapIsNoGround() {
    for (std::uint64_t seed = 1; seed <= 60; ++seed) {
      test::Random random(seed);
      const double tip = random.in(0.01, 0.024), wide = random.in(0.1, 0.5), skew = random.in(-0.2, 0.2);
      Scene scene;
      scene.quad({-6, 0, -6}, {-6, 0, 2}, {-tip, 0, 2}, {-wide + skew, 0, -6}, "left");
      scene.quad({tip, 0, 2}, {6, 0, 2}, {6, 0, -6}, {wide + skew, 0, -6}, "right");
      scene.floor(-6, 2, 6, 6, 0, "beyond");
      nav::Agent agent;
      agent.radius = random.in(0.3, 0.9);
      const auto b = built(scene.turned(random.in(0, 6)).world(), agent);
      QVERIFY(b->mesh.faceCount() > 0);
      for (int i = 0; i < 400; ++i) {
        const nav::FaceId f{static_cast<std::uint32_t>(random.upTo(static_cast<int>(b->mesh.faceCount())))};
        Vec3 sum{0};
        double weights = 0;
        for (std::size_t c = 0; c < b->mesh.cornerCount(f); ++c) {
          const double weight = random.in(0.01, 1);
          sum += b->mesh.cornerAt(f, c) * weight, weights += weight;
        }
        const auto near = b->clearance.nearest(plan(sum / weights), 0, 2);
        QVERIFY2(!near || near->distance > agent.radius - 0.01,
                 qPrintable(QStringLiteral("seed %1: %2 m with a radius of %3").arg(seed).arg(near->distance).arg(agent.radius)));
      }
    }
  }
  void aroundARoundCornerTheBorderIsARoundLine() {
    const auto b = built(Scene().floor(-5, -5, 5, 5).box({-1, -1, -1}, {0, 3, 0}).world());
    // All border corners in the open quadrant keep the radius from the box's corner within the stated error.
    int corners = 0;
    for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f)
      for (std::size_t i = 0; i < b->mesh.cornerCount(nav::FaceId{f}); ++i) {
        const Vec3& p = b->mesh.cornerAt(nav::FaceId{f}, i);
        if (p.x < 0.01 || p.z < 0.01 || p.x > 0.6 || p.z > 0.6) continue;
        const double d = std::hypot(p.x, p.z);
        QVERIFY(d > b->agent.radius - 0.002 && d < b->agent.radius + 0.012);
        ++corners;
      }
    QVERIFY(corners >= 3);
  }
};

QTEST_APPLESS_MAIN(TestOutline)
#include "outline.moc"
