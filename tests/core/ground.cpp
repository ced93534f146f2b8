// Limits mean what they say: closed forms for steps, slopes, headroom and doors, at any turn of the level.

#include <QtTest>

#include "core/nav/walk.h"
#include "core/pipeline/explainer.h"
#include "tests/core/scenes.h"

using namespace dune;
using ground::Verdict;
using test::built;
using test::Scene;

class TestGround : public QObject {
  Q_OBJECT

  static ground::Explanation explained(const level::World& world, const Vec3& at, const nav::Agent& agent = {}) {
    const auto b = built(world, agent);
    return pipeline::Explainer().at(b, at);
  }
  static bool reaches(const level::World& world, const Vec3& a, const Vec3& b, const nav::Agent& agent = {}) {
    const auto result = built(world, agent);
    const nav::Place p = test::on(result->mesh, a), q = test::on(result->mesh, b);
    return p.valid() && q.valid() && result->mesh.island[index(p.face)] == result->mesh.island[index(q.face)];
  }

 private slots:
  void stepAtTheLimit_data() {
    QTest::addColumn<double>("angle");
    for (const double a : {0.0, 0.3, 0.7853981, 1.234}) QTest::addRow("turned %.3f", a) << a;
  }
  void stepAtTheLimit() {
    QFETCH(double, angle);
    nav::Agent agent;
    auto stepOf = [&](double rise) { return Scene().floor(0, 0, 6, 6).box({6, -1, 0}, {12, rise, 6}).turned(angle).world(); };
    const Scene frame;
    auto at = [&](double x, double y, double z) {
      return Vec3{std::cos(angle) * x + std::sin(angle) * z, y, -std::sin(angle) * x + std::cos(angle) * z};
    };
    QVERIFY(reaches(stepOf(0.99 * agent.stepHeight), at(2, 0, 3), at(9, 0.99 * agent.stepHeight, 3)));
    QVERIFY(!reaches(stepOf(1.01 * agent.stepHeight), at(2, 0, 3), at(9, 1.01 * agent.stepHeight, 3)));
  }
  void whatLeansIsAStepToo_data() {
    QTest::addColumn<double>("rise");
    QTest::addColumn<double>("lean");
    for (const double rise : {0.15, 0.3, 0.395, 0.405, 0.6})
      for (const double lean : {0.0, 0.03, 0.06, 0.09, 0.15, 0.3}) QTest::addRow("%.3f high, leans by %.2f", rise, lean) << rise << lean;
  }
  void whatLeansIsAStepToo() {
    QFETCH(double, rise);
    QFETCH(double, lean);
    const nav::Agent agent;
    if (lean > 0 && rise / lean <= std::tan(radians(agent.maxSlope))) return;  // a ramp
    for (int k = 0; k < 12; ++k) {
      const double angle = 0.1 + 2 * kPi * k / 12;
      const Vec3 by = k % 3 == 2 ? Vec3{8000, 0, -8000} : Vec3{0};
      Scene curb;
      curb.floor(-5, -5, 0, 5, 0, "road").quad({0, 0, -5}, {0, 0, 5}, {lean, rise, 5}, {lean, rise, -5}, "curb");
      curb.floor(lean, -5, 5, 5, rise, "pavement").turned(angle, by);
      const auto b = built(curb.world());
      QVERIFY(nav::checkStructure(b->mesh).empty());
      QCOMPARE(std::ranges::max(b->mesh.island) == 0, rise <= agent.stepHeight);
    }
  }
  void roundedAndHalfSunkThingsAreSteppedOver() {
    // A log of 30 cm that lies a third in the ground, and treads with noses.
    for (int k = 0; k < 8; ++k) {
      Scene log, stairs;
      log.floor(-5, -5, 5, 5);
      constexpr int kSides = 16;
      for (int i = 0; i < kSides; ++i) {
        const auto at = [](int n, double z) {
          const double a = 2 * kPi * n / kSides;
          return Vec3{0.15 * std::cos(a), 0.1 + 0.15 * std::sin(a), z};
        };
        log.quad(at(i, -5), at(i + 1, -5), at(i + 1, 5), at(i, 5), "log");
      }
      stairs.floor(-5, -2, 0, 2).floor(3, -2, 8, 2, 1.8, "landing");
      for (int i = 0; i < 10; ++i) {
        const double x = 0.3 * i, y = 0.18 * (i + 1);
        stairs.box({x - 0.03, y - 0.04, -2}, {x + 0.3, y, 2}, "tread").box({x, y - 0.18, -2}, {x + 0.3, y - 0.04, 2}, "riser");
      }
      for (Scene* scene : {&log, &stairs}) {
        const auto b = built(scene->turned(0.7 * k).world());
        QVERIFY(nav::checkStructure(b->mesh).empty());
        QCOMPARE(std::ranges::max(b->mesh.island), 0u);
      }
    }
  }
  void heightsAreNeverThoseOfAnotherStorey() {
    // A hollow dome of spherical sectors: between the last and the first lies a gap of rounding, over which only the floor is found.
    constexpr int kSectors = 24, kRings = 6, kTurns = 36;
    for (int turn = 0; turn < kTurns; ++turn) {
      Scene dome;
      dome.floor(-5, -5, 5, 5);
      const auto at = [](int sector, int ring) {
        const double a = 2 * kPi * sector / kSectors, u = kPi / 2 * ring / kRings;
        return Vec3{std::cos(u) * std::cos(a), std::sin(u), std::cos(u) * std::sin(a)} * 3.0;
      };
      for (int i = 0; i < kSectors; ++i)
        for (int k = 0; k < kRings; ++k) dome.quad(at(i, k), at(i + 1, k), at(i + 1, k + 1), at(i, k + 1), "dome");
      const auto b = built(dome.turned(2 * kPi * turn / kTurns).world());
      const auto wrong = nav::checkStructure(b->mesh);
      QVERIFY2(wrong.empty(), wrong.empty() ? "" : wrong[0].c_str());
      for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f) {
        double low = INFINITY, high = -INFINITY;
        for (std::size_t c = 0; c < b->mesh.cornerCount(nav::FaceId{f}); ++c) {
          const double y = b->mesh.cornerAt(nav::FaceId{f}, c).y;
          low = std::min(low, y), high = std::max(high, y);
        }
        QVERIFY(high < 0.1 || low > 1);  // on the floor, or on the dome
      }
    }
  }
  void bricksAreOneGround_data() {
    QTest::addColumn<double>("crack");
    for (const double crack : {0.0005, 0.001, 0.002, 0.003, 0.005, 0.01, 0.02}) QTest::addRow("%.3f", crack) << crack;
  }
  void bricksAreOneGround() {
    // Laid in bond, so that at every joint a crack runs away from the side of another brick.
    QFETCH(double, crack);
    constexpr double kLong = 0.2, kWide = 0.1;
    constexpr int kRows = 40, kInRow = 20;
    const nav::Agent agent;
    for (int turn = 0; turn < 8; ++turn) {
      Scene bricks;
      for (int row = 0; row < kRows; ++row)
        for (int i = 0; i < kInRow; ++i) {
          const double x = i * (kLong + crack) + row % 2 * kLong / 2, z = row * (kWide + crack);
          bricks.floor(x, z, x + kLong, z + kWide, 0, "brick");
        }
      const auto b = built(bricks.turned(0.8 * turn).world());
      QVERIFY(nav::checkStructure(b->mesh).empty());
      QVERIFY(b->mesh.faceCount() > 0);
      QCOMPARE(std::ranges::max(b->mesh.island), 0u);
      double area = 0;
      for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f) area += nav::faceArea(b->mesh, nav::FaceId{f});
      // What lies a radius inside of the bricks, whose ends stand out by turns at two sides.
      const double across = kInRow * (kLong + crack) - 2 * agent.radius, along = kRows * (kWide + crack) - 2 * agent.radius;
      QVERIFY2(area > 0.94 * (across - kLong / 2) * along && area < 1.02 * across * along, qPrintable(QString::number(area)));
    }
  }
  void aBankIsAStepAsFarAsItIsLow() {
    // Beside a ramp that rises to 1 m over 10 m leans its side of 73 degrees: over it up to the step height, at 4 m.
    Scene bank;
    bank.floor(0, -4, 10, 0, 0, "below");
    bank.quad({0, 0, 0}, {10, 0, 0}, {10, 1, 0.3}, {10, 1, 0.3}, "side");
    bank.quad({0, 0, 0}, {10, 1, 0.3}, {10, 1, 4}, {0, 0, 4}, "top");
    const auto b = built(bank.world());
    const nav::Locator locator(b->mesh);
    const auto crosses = [&](double x) { return nav::castRay(b->mesh, locator.nearest({x, 0, -2}, 1), plan(Vec3{x, 0, 3})).reached; };
    QVERIFY(crosses(1) && crosses(2) && crosses(3.5));
    QVERIFY(!crosses(4.5) && !crosses(6) && !crosses(9));
  }
  void slopeAtTheLimit() {
    const auto slope = [](double degreesOfIt) {
      const double rise = 3 * std::tan(radians(degreesOfIt));
      return Scene().floor(-5, 0, 0, 6).ramp(0, 0, 3, 6, 0, rise).floor(3, 0, 8, 6, rise, "top").world();
    };
    nav::Agent agent;
    agent.maxSlope = 40;
    QVERIFY(reaches(slope(39.6), {-3, 0, 3}, {6, 3 * std::tan(radians(39.6)), 3}, agent));
    QVERIFY(!reaches(slope(40.4), {-3, 0, 3}, {6, 3 * std::tan(radians(40.4)), 3}, agent));
    const auto e = explained(slope(52), {1.5, 1.5 * std::tan(radians(52)), 3}, agent);
    QVERIFY(e.decides.verdict == Verdict::tooSteep);
    QVERIFY(std::abs(e.decides.measured - 52) < 1e-6);
    QCOMPARE(e.decides.limit, 40.0);
    QCOMPARE(e.decides.object, std::string("ramp"));
  }
  void headroomAtTheLimit() {
    nav::Agent agent;
    const auto under = [](double room) { return Scene().floor(0, 0, 12, 4).box({5, room, 0}, {7, room + 1, 4}, "beam").world(); };
    QVERIFY(reaches(under(1.01 * agent.height), {2, 0, 2}, {10, 0, 2}));
    QVERIFY(!reaches(under(0.99 * agent.height), {2, 0, 2}, {10, 0, 2}));
    const auto e = explained(under(1.42), {6, 0, 2});
    QVERIFY(e.decides.verdict == Verdict::headroom);
    QVERIFY(std::abs(e.decides.measured - 1.42) < 1e-9);
    QCOMPARE(e.decides.object, std::string("beam"));
  }
  void doorAtTheLimit_data() {
    QTest::addColumn<double>("angle");
    for (int i = 0; i < 6; ++i) QTest::addRow("turned %d", i) << i * 0.29;
  }
  void doorAtTheLimit() {
    QFETCH(double, angle);
    nav::Agent agent;
    const auto door = [&](double width) {
      return Scene()
          .floor(0, 0, 10, 10)
          .box({4, -1, -1}, {4.3, 3, 5 - width / 2})
          .box({4, -1, 5 + width / 2}, {4.3, 3, 11})
          .turned(angle)
          .world();
    };
    auto at = [&](double x, double z) {
      return Vec3{std::cos(angle) * x + std::sin(angle) * z, 0, -std::sin(angle) * x + std::cos(angle) * z};
    };
    QVERIFY(reaches(door(2 * agent.radius * 1.01), at(2, 5), at(8, 5)));
    QVERIFY(!reaches(door(2 * agent.radius * 0.99), at(2, 5), at(8, 5)));
  }
  void distanceToAWallIsExplained() {
    const auto e = explained(Scene().floor(0, 0, 10, 10).box({5, -1, 0}, {6, 3, 10}, "bulwark").world(), {4.69, 0, 5});
    QVERIFY2(e.decides.verdict == Verdict::nearWall || e.decides.verdict == Verdict::nearEnd, e.sentence.c_str());
    QVERIFY(std::abs(e.decides.measured - 0.31) < 1e-9);
    QCOMPARE(e.decides.object, std::string("bulwark"));
  }
  void riseIsExplained() {
    const auto e = explained(Scene().floor(0, 0, 5, 5).box({5, -1, 0}, {10, 0.46, 5}, "ledge").world(), {4.8, 0, 2});
    QVERIFY(e.decides.verdict == Verdict::nearEnd || e.decides.verdict == Verdict::nearWall);
    QVERIFY(e.sentence.find("ledge") != std::string::npos);
  }
  void roleAndBoundsAndSolidsAreExplained() {
    level::World world = Scene().floor(0, 0, 10, 10).box({4, 0, 4}, {6, 3, 6}, "block").world();
    QVERIFY(explained(world, {5, 0, 5}).decides.verdict == Verdict::insideSolid);
    world.roles[1] = level::Role::obstacle;
    QVERIFY(explained(world, {5, 3, 5}).decides.verdict == Verdict::notGround);
    world.bounds = Box3{{0, -1, 0}, {3, 5, 10}};
    QVERIFY(explained(world, {8, 0, 8}).decides.verdict == Verdict::outsideBounds);
    QVERIFY(explained(world, {2.9, 0, 8}).decides.verdict == Verdict::nearBounds);
    // Bounds are asked first, at any distance and where there is no ground at all.
    const ground::Explanation far = explained(world, {50, 0, 8});
    QVERIFY(far.decides.verdict == Verdict::outsideBounds && std::abs(far.decides.measured - 47) < 1e-9);
    world.bounds.reset();
    QVERIFY(explained(world, {50, 0, 8}).decides.verdict == Verdict::noSurface);
    world.bounds = Box3{{0, -1, 0}, {3, 5, 10}};
    QVERIFY(explained(world, {1.5, 0, 5}).decides.verdict == Verdict::walkable);
  }
  void forbiddenGroundIsSaidAsSuch() {
    level::World world = Scene().floor(0, 0, 20, 20).world();
    world.kinds.push_back({"sinking sand", "#333333", 1, 0, true});
    world.volumes.push_back({4, "sinking sand", {{8, -12}, {12, -12}, {12, -8}, {8, -8}}, -1, 1});
    const ground::Explanation e = explained(world, {10, 0, 10});
    QVERIFY(!e.walkable() && e.decides.verdict == Verdict::forbidden);
    QCOMPARE(e.sentence, std::string("Not walkable: forbidden: sinking sand, volume 4."));
    QVERIFY(explained(world, {5, 0, 10}).walkable());
  }
  void whatIsOfferedHelps_data() {
    QTest::addColumn<double>("rise");
    for (const double rise : {0.41, 0.5, 0.75, 1.2}) QTest::addRow("rise %.2f", rise) << rise;
  }
  void whatIsOfferedHelps() {
    // At the foot of a riser the step height is a cure; typed in as offered it is one.
    QFETCH(double, rise);
    const level::World world = Scene().floor(0, 0, 6, 6).box({6, -1, 0}, {12, rise, 6}, "stair").world();
    const ground::Explanation e = explained(world, {5.9, 0, 3});
    const std::string offered = "a step height of ";
    const std::size_t at = e.decides.change.find(offered);
    QVERIFY2(at != std::string::npos, e.decides.change.c_str());
    nav::Agent agent;
    agent.stepHeight = std::stod(e.decides.change.substr(at + offered.size()));
    QVERIFY(agent.stepHeight < rise + 0.02);
    QVERIFY(reaches(world, {2, 0, 3}, {9, rise, 3}, agent));
    // Nor is a body of no width ever a cure.
    for (const double near : {0.0, 0.001, 0.02, 0.05})
      QVERIFY2(explained(world, {6 - near, 0, 3}).decides.change.find("radius of 0.0") == std::string::npos || near > 0.05,
               explained(world, {6 - near, 0, 3}).decides.change.c_str());
  }
  /// A closed box of one object, seen from inside or from outside.
  static level::World shell(bool inward, bool crate, double turn = 0) {
    Scene scene;
    scene.box({0, 0, 0}, {20, 4, 12}, "shell");
    if (inward == facesOut()) scene.flipped();
    if (crate) {
      Scene inside;
      inside.box({8, 0, 4}, {10, 1, 6}, "crate");
      if (!facesOut()) inside.flipped();
      level::World both = scene.turned(turn).world();
      auto level = std::make_shared<level::Level>(*both.level);
      level->objects.push_back(inside.turned(turn).world().level->objects[0]);
      return level::plainWorld(level);
    }
    return scene.turned(turn).world();
  }
  /// How the boxes of the tests are wound.
  static bool facesOut() {
    const level::World world = Scene().box({0, 0, 0}, {1, 1, 1}).world();
    const level::Object& o = world.level->objects[0];
    double volume = 0;
    for (const auto& t : o.triangles) volume += glm::dot(o.vertices[t[0]], glm::cross(o.vertices[t[1]], o.vertices[t[2]])) / 6;
    return volume > 0;
  }
  void aRoomSeenFromInsideHasGround_data() {
    QTest::addColumn<double>("turn");
    for (const double turn : {0.0, 0.4, 1.1, 2.6}) QTest::addRow("turned %.1f", turn) << turn;
  }
  void aRoomSeenFromInsideHasGround() {
    QFETCH(double, turn);
    const nav::Agent agent;
    const double inner = (20 - 2 * agent.radius) * (12 - 2 * agent.radius);
    const auto room = built(shell(true, false, turn));
    QVERIFY2(std::abs(nav::totalArea(room->mesh) - inner) < 0.5, qPrintable(QString::number(nav::totalArea(room->mesh))));
    QCOMPARE(nav::countIslands(room->mesh), std::size_t{1});  // nothing on the far side of its ceiling
    // A crate in it is a solid: no ground within, and its top is an island.
    const auto furnished = built(shell(true, true, turn));
    QCOMPARE(nav::countIslands(furnished->mesh), std::size_t{2});
    const double around = inner - (2 + 2 * agent.radius) * (2 + 2 * agent.radius) + (4 - kPi) * agent.radius * agent.radius,
                 top = (2 - 2 * agent.radius) * (2 - 2 * agent.radius);
    QVERIFY2(std::abs(nav::totalArea(furnished->mesh) - around - top) < 0.5, qPrintable(QString::number(nav::totalArea(furnished->mesh))));
  }
  void aBlockSeenFromOutsideHasNone() {
    const nav::Agent agent;
    const auto block = built(shell(false, false));
    QVERIFY(std::abs(nav::totalArea(block->mesh) - (20 - 2 * agent.radius) * (12 - 2 * agent.radius)) < 0.5);
    for (const Vec3& v : block->mesh.vertices) QVERIFY(v.y > 3.9);  // its roof alone
  }
  void aHeapOfEqualTrianglesIsOne() {
    Scene once, often;
    once.floor(0, 0, 8, 8).box({3, -1, 3}, {5, 2, 5});
    often.floor(0, 0, 8, 8).box({3, -1, 3}, {5, 2, 5});
    level::World many = often.world();
    auto level = std::make_shared<level::Level>(*many.level);
    for (level::Object& o : level->objects) {
      const auto triangles = o.triangles;
      for (int i = 0; i < 2000; ++i)
        for (const auto& t : triangles) o.triangles.edit().push_back({t[1], t[2], t[0]});
    }
    many.level = level;
    const auto a = built(once.world()), b = built(many);
    QCOMPARE(b->mesh.vertices, a->mesh.vertices);
    QCOMPARE(b->mesh.corners, a->mesh.corners);
  }
  void explainAgreesWithTheMesh() {
    // At random places the mesh has ground exactly where explain says so, but for a hair at the border.
    for (std::uint64_t seed = 0; seed < 12; ++seed) {
      test::Random random(seed);
      Scene scene;
      scene.floor(0, 0, 14, 14);
      for (int i = 0; i < 6; ++i) {
        const Vec3 a{random.in(0, 12), -0.5, random.in(0, 12)};
        scene.box(a, a + Vec3{random.in(0.3, 3), random.in(0.9, 3), random.in(0.3, 3)}, "box " + std::to_string(i));
      }
      const auto b = built(scene.world());
      const ground::Soup soup(b->world);
      const ground::Standing standing(soup, b->world, b->agent);
      const nav::Locator locator(b->mesh);
      for (int i = 0; i < 200; ++i) {
        const Vec3 p{random.in(0, 14), 0, random.in(0, 14)};
        const auto e = ground::explain(standing, b->clearance, p);
        if (std::abs(e.at.y) > 1e-6) continue;
        const bool meshed = locator.under(p, 0.1).valid();
        const auto near = b->clearance.nearest(plan(p), 0, 1);
        if (near && std::abs(near->distance - b->agent.radius) < 0.015) continue;
        QVERIFY2(meshed == (e.decides.verdict == Verdict::walkable),
                 qPrintable(QStringLiteral("seed %1 at %2,%3: %4").arg(seed).arg(p.x).arg(p.z).arg(QString::fromStdString(e.sentence))));
      }
    }
  }
  /// A thin plate on the floor: who asks for the floor under it is told of the plate, where a body stands; under a thick one it does not.
  void ofThinThingsOnTheGroundTheTopIsMeant() {
    for (const double thick : {0.0005, 0.03, 0.3}) {
      const auto b = built(Scene().floor(0, 0, 6, 6).floor(1, 1, 5, 5, thick, "plate").world());
      const ground::Soup soup(b->world);
      const ground::Standing standing(soup, b->world, b->agent);
      const auto e = ground::explain(standing, b->clearance, {3, 0, 3});
      QCOMPARE(e.walkable(), thick < 0.1);
      QVERIFY(std::abs(e.at.y - (thick < 0.1 ? thick : 0)) < 1e-3);
    }
  }
};

QTEST_APPLESS_MAIN(TestGround)
#include "ground.moc"
