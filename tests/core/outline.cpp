// The border against exact answers: rooms offset by Clipper, and the distance that every corner keeps.

#include <QtTest>
#include <polyclipping/clipper.hpp>

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
