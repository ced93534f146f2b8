// Agents that crouch: low places are ground of a kind of their own, all else is as it was.

#include <QtTest>

#include "core/meshes/mesh_files.h"
#include "core/pipeline/explainer.h"
#include "core/route/path.h"
#include "core/system/threads.h"
#include "tests/core/scenes.h"

using namespace dune;
using test::built;
using test::Scene;

class TestCrouch : public QObject {
  Q_OBJECT

  static nav::Agent agent(double radius = 0.3, double crouch = 1.0) {
    nav::Agent a;
    a.radius = radius, a.height = 1.8, a.crouchHeight = crouch;
    return a;
  }
  static nav::Agent plain(const nav::Agent& a, double height) {
    nav::Agent other = a;
    other.height = height, other.crouchHeight = 0;
    return other;
  }
  /// Ground of the last kind, and all of it.
  struct Areas {
    double low = 0, all = 0;
  };
  static Areas areasOf(const nav::NavMesh& m) {
    Areas areas;
    for (std::uint32_t f = 0; f < m.faceCount(); ++f) {
      const double area = nav::faceArea(m, nav::FaceId{f});
      areas.all += area;
      if (m.area[f] + 1u == m.kinds.size()) areas.low += area;
    }
    return areas;
  }
  /// A floor with boxes that stand on it, and plates that hang over it at heights between crouching and standing.
  static Scene room(std::uint64_t seed) {
    test::Random random(seed);
    Scene scene;
    scene.floor(0, 0, 22, 18);
    for (int i = 0; i < 5; ++i) {
      const Vec3 a{random.in(1, 19), -0.2, random.in(1, 15)};
      scene.box(a, a + Vec3{random.in(0.3, 3), random.in(2.2, 3), random.in(0.3, 3)}, "box " + std::to_string(i));
    }
    for (int i = 0; i < 5; ++i) {
      const Vec3 a{random.in(1, 18), random.in(0.7, 2.3), random.in(1, 14)};
      scene.box(a, a + Vec3{random.in(0.5, 4), 0.1, random.in(0.5, 4)}, "plate " + std::to_string(i));
    }
    return scene.turned(random.in(0, 6));
  }

 private slots:
  void underATableItCrouches() {
    const double wide = 2, deep = 3, r = 0.3;
    const auto b = built(Scene().floor(-6, -6, 6, 6).box({-1, 1.2, -1.5}, {1, 1.3, 1.5}, "table").world(), agent(r));
    QVERIFY(b != nullptr);
    QCOMPARE(b->mesh.kinds.size(), std::size_t{2});
    QCOMPARE(b->mesh.kinds[1].name, std::string("crouching"));
    const double exact = wide * deep + 2 * r * (wide + deep) + kPi * r * r;
    // The top of the table is ground as well, and not low.
    const Areas areas = areasOf(b->mesh);
    QVERIFY2(std::abs(areas.low - exact) < 0.01 * exact, qPrintable(QStringLiteral("%1 against %2").arg(areas.low).arg(exact)));
    QVERIFY(nav::checkStructure(b->mesh).empty());
  }
  void lowGroundIsWhatOnlyALowerAgentHas_data() {
    QTest::addColumn<quint64>("seed");
    for (quint64 s = 0; s < 24; ++s) QTest::addRow("seed %d", static_cast<int>(s)) << s;
  }
  void lowGroundIsWhatOnlyALowerAgentHas() {
    QFETCH(quint64, seed);
    const level::World world = room(seed).world();
    const nav::Agent both = agent(0.2 + 0.05 * static_cast<double>(seed % 5));
    const auto b = built(world, both), low = built(world, plain(both, both.crouchHeight)), tall = built(world, plain(both, both.height));
    QVERIFY(b && low && tall);
    const auto wrong = nav::checkStructure(b->mesh);
    QVERIFY2(wrong.empty(), wrong.empty() ? "" : wrong[0].c_str());
    const Areas areas = areasOf(b->mesh);
    const double wantedAll = nav::totalArea(low->mesh), wantedTall = nav::totalArea(tall->mesh);
    QVERIFY2(std::abs(areas.all - wantedAll) < 0.002 * wantedAll, qPrintable(QStringLiteral("all %1 of %2").arg(areas.all).arg(wantedAll)));
    // Tops of boxes under a plate can be too low for the tall one and out of reach: both count them by themselves.
    QVERIFY2(std::abs(areas.all - areas.low - wantedTall) < 0.003 * wantedAll,
             qPrintable(QStringLiteral("upright %1 of %2").arg(areas.all - areas.low).arg(wantedTall)));
  }
  void facesAndExplanationsAgree() {
    int low = 0, high = 0;
    for (std::uint64_t seed = 0; seed < 6; ++seed) {
      const level::World world = room(seed).world();
      const nav::Agent both = agent(0.25);
      const auto b = built(world, both);
      QVERIFY(b != nullptr);
      const nav::Locator locator(b->mesh);
      pipeline::Explainer explainer;
      test::Random random(seed + 9);
      for (int i = 0; i < 300; ++i) {
        const std::uint32_t f = static_cast<std::uint32_t>(random.upTo(static_cast<int>(b->mesh.faceCount())));
        Vec3 middle{0};
        for (std::size_t k = 0; k < b->mesh.cornerCount(nav::FaceId{f}); ++k) middle += b->mesh.cornerAt(nav::FaceId{f}, k);
        middle /= static_cast<double>(b->mesh.cornerCount(nav::FaceId{f}));
        if (nav::faceArea(b->mesh, nav::FaceId{f}) < 0.02) continue;  // a sliver's middle is as good as its border
        const ground::Explanation e = explainer.at(b, middle);
        if (!e.walkable()) continue;
        const bool crouching = b->mesh.area[f] + 1u == b->mesh.kinds.size();
        QVERIFY2(e.upright.has_value() == crouching,
                 qPrintable(QStringLiteral("seed %1: %2").arg(seed).arg(QString::fromStdString(e.sentence))));
        ++(crouching ? low : high);
      }
    }
    QVERIFY(low > 100 && high > 300);
  }
  void onlyWhoCrouchesGetsThroughALowPassage() {
    // Two rooms and a passage between them, 1.2 m high.
    Scene scene;
    scene.floor(0, 0, 12, 6)
        .box({5, -0.2, 0}, {7, 3, 2.4}, "left")
        .box({5, -0.2, 3.6}, {7, 3, 6}, "right")
        .box({5, 1.2, 2.4}, {7, 3, 3.6}, "lintel");
    const level::World world = scene.turned(0.4).world();
    auto turned = [](double x, double z) { return Vec3{std::cos(0.4) * x + std::sin(0.4) * z, 0, -std::sin(0.4) * x + std::cos(0.4) * z}; };
    auto ask = [&](const nav::Agent& a) {
      const auto b = built(world, a);
      const route::Field field(b->mesh, b->rules());
      route::Search search(field);
      return route::findPath(field, search, turned(1, 3), turned(11, 3));
    };
    QVERIFY(ask(agent()).status == route::PathStatus::complete);
    QVERIFY(ask(plain(agent(), 1.8)).status != route::PathStatus::complete);
    QVERIFY(ask(agent(0.3, 1.3)).status != route::PathStatus::complete);  // too high even crouching
    nav::Agent lazy = agent();
    lazy.crouchCost = 5;
    const auto cheap = ask(agent()), dear = ask(lazy);
    QVERIFY(dear.cost > cheap.cost + 2 * 3 - 1 && std::abs(dear.length - cheap.length) < 0.2);
  }
  void sameBytesOnAnyThreadsAndAfterAChange() {
    const level::World world = room(3).world();
    const auto one = built(world, agent(), 1), two = built(world, agent(), 2);
    QVERIFY(meshfile::toBytes({one->mesh, {}}) == meshfile::toBytes({two->mesh, {}}));
    const level::World moved = room(3).box({2, -0.2, 2}, {3, 1.1, 3}, "late").world();
    ThreadedJob job;
    const auto part = generate::build(moved, agent(), job, one);
    const auto whole = built(moved, agent());
    QVERIFY(part.ok() && meshfile::toBytes({(*part)->mesh, {}}) == meshfile::toBytes({whole->mesh, {}}));
    // Another crouch height is another ground.
    const auto other = generate::build(world, agent(0.3, 1.4), job, one);
    QVERIFY(other.ok() && meshfile::toBytes({(*other)->mesh, {}}) == meshfile::toBytes({built(world, agent(0.3, 1.4))->mesh, {}}));
  }
  void oneMoreKindOfGroundMovesTheCrouchingKind() {
    level::World world = room(3).world();
    const auto before = built(world, agent());
    world.kinds.push_back({"mud", "#333333", 3, 0, false});
    ThreadedJob job;
    const auto after = generate::build(world, agent(), job, before);
    QVERIFY(after.ok() && meshfile::toBytes({(*after)->mesh, {}}) == meshfile::toBytes({built(world, agent())->mesh, {}}));
    QVERIFY(std::abs(areasOf((*after)->mesh).low - areasOf(before->mesh).low) < 1e-9);
  }
  void forbiddenGroundStaysForbidden() {
    level::World world = Scene().floor(-6, -6, 6, 6).box({-1, 1.2, -1.5}, {1, 1.3, 1.5}, "table").world();
    world.kinds.push_back({"brine", "#3f7f9c", 3, 0, true});
    world.volumes.push_back({1, "brine", {{-3, -3}, {0, -3}, {0, 3}, {-3, 3}}, -0.5, 0.5});
    const auto b = built(world, agent());
    QCOMPARE(b->mesh.kinds.size(), std::size_t{3});
    for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f) {
      Vec3 middle{0};
      for (std::size_t k = 0; k < b->mesh.cornerCount(nav::FaceId{f}); ++k)
        middle += b->mesh.cornerAt(nav::FaceId{f}, k) / static_cast<double>(b->mesh.cornerCount(nav::FaceId{f}));
      if (middle.y < 0.5 && middle.x > -3 && middle.x < 0 && std::abs(middle.z) < 3) QCOMPARE(int{b->mesh.area[f]}, 1);
    }
    QVERIFY(areasOf(b->mesh).low > 2);
  }
  void senselessCrouchHeightsAreRefused() {
    for (const double h : {-1.0, 0.2, 1.8, 5.0, std::numeric_limits<double>::quiet_NaN()})
      QVERIFY(nav::checkAgent(agent(0.3, h)).has_value());
    QVERIFY(!nav::checkAgent(agent(0.3, 0)).has_value() && !nav::checkAgent(agent(0.3, 1)).has_value());
  }
};

QTEST_APPLESS_MAIN(TestCrouch)
#include "crouch.moc"
