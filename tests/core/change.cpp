// What is different between two grounds, and what trying a limit finds: against exact areas and closed forms.

#include <QtTest>

#include "core/pipeline/change.h"
#include "core/pipeline/explainer.h"
#include "core/pipeline/sweep.h"
#include "core/system/threads.h"
#include "tests/core/scenes.h"

using namespace dune;
using test::built;
using test::Scene;

class TestChange : public QObject {
  Q_OBJECT

  using Level = std::shared_ptr<const level::Level>;

  static std::shared_ptr<const pipeline::Ground> ground(const project::Project& p, const Level& level, std::size_t agent = 0) {
    ThreadedJob job;
    return *pipeline::makeGround(p, level, agent, nullptr, job);
  }
  static project::Project projectWith(const nav::Agent& agent) {
    project::Project p;
    project::edit(p.agents, [&](project::AgentsSection& s) { s.agents = {agent}; });
    return p;
  }
  static double area(const std::vector<pipeline::Patch>& patches) {
    double sum = 0;
    for (const pipeline::Patch& p : patches) sum += p.area;
    return sum;
  }
  /// A floor cut in two by a wall with a door of a given width, under a lintel.
  static Level doorway(double width, double height) {
    return Scene()
        .floor(0, 0, 12, 8)
        .box({5.9, 0, -1}, {6.1, 3, 4 - width / 2}, "wall_north")
        .box({5.9, 0, 4 + width / 2}, {6.1, 3, 9}, "wall_south")
        .box({5.9, height, 4 - width / 2}, {6.1, 3, 4 + width / 2}, "lintel")
        .world()
        .level;
  }

 private slots:
  void sameGroundHasNoDifference() {
    for (std::uint64_t seed = 0; seed < 10; ++seed) {
      test::Random random(seed);
      Scene scene;
      scene.floor(0, 0, 20, 20);
      for (int i = 0; i < 8; ++i) {
        const Vec3 a{random.in(1, 17), 0, random.in(1, 17)};
        scene.box(a, a + Vec3{random.in(0.3, 2), 2, random.in(0.3, 2)});
      }
      const auto b = built(scene.world());
      QVERIFY(pipeline::groundBeyond(b->mesh, b->mesh, 0.5).empty());
    }
  }
  void differencesAreTheDifferenceOfAreas() {
    // Random worlds, each with one more box than the other: what one has beyond the other, less the reverse, is the difference of areas;
    // and a box only takes ground away, but for its top.
    for (std::uint64_t seed = 0; seed < 25; ++seed) {
      test::Random random(seed);
      Scene fewer;
      fewer.floor(0, 0, 20, 20);
      for (int i = 0; i < 5; ++i) {
        const Vec3 a{random.in(1, 17), 0, random.in(1, 17)};
        fewer.box(a, a + Vec3{random.in(0.3, 3), random.in(0.5, 3), random.in(0.3, 3)});
      }
      Scene more = fewer;
      const Vec3 a{random.in(1, 17), 0, random.in(1, 17)};
      more.box(a, a + Vec3{random.in(0.3, 3), 2.5, random.in(0.3, 3)}, "extra");
      const auto x = built(fewer.world()), y = built(more.world());
      const double lost = area(pipeline::groundBeyond(x->mesh, y->mesh, 0.9)), gained = area(pipeline::groundBeyond(y->mesh, x->mesh, 0.9));
      const double difference = nav::totalArea(x->mesh) - nav::totalArea(y->mesh);
      QVERIFY2(std::abs(lost - gained - difference) < 0.02 + 0.002 * lost,
               qPrintable(QString("%1: %2 %3 %4").arg(seed).arg(lost).arg(gained).arg(difference)));
    }
  }
  void storeysAreComparedEachWithItsOwn() {
    const auto one = built(Scene().floor(0, 0, 8, 8).floor(0, 0, 8, 8, 3, "upper").world());
    const auto two = built(Scene().floor(0, 0, 8, 8).world());
    const auto lost = pipeline::grouped(pipeline::groundBeyond(one->mesh, two->mesh, 0.9));
    QCOMPARE(lost.size(), std::size_t{1});
    QVERIFY2(std::abs(lost[0].area - 7.2 * 7.2) < 0.02, qPrintable(QString::number(lost[0].area)));
    QVERIFY(std::abs(lost[0].at.y - 3) < 1e-6);
  }
  void placesAreNamedByWhatIsThere() {
    const project::Project p = projectWith({});
    const Level before = Scene().floor(0, 0, 10, 10).world().level;
    const Level after = Scene().floor(0, 0, 10, 10).box({3, 0, 3}, {4, 2, 4}, "crate").box({7, 0, 7}, {8, 2, 8}, "cart").world().level;
    ThreadedJob job;
    const auto change = *pipeline::compare(ground(p, before), ground(p, after), *p.routes, job);
    std::vector<std::string> causes;
    for (const pipeline::ChangedPlace& place : change->places)
      if (!place.gained) causes.push_back(place.cause);
    QCOMPARE(causes.size(), std::size_t{2});
    QVERIFY(std::ranges::any_of(causes, [](const std::string& c) { return c.find("crate") != std::string::npos; }));
    QVERIFY(std::ranges::any_of(causes, [](const std::string& c) { return c.find("cart") != std::string::npos; }));
    QVERIFY(std::abs(change->lost - 2 * (1 + 4 * 0.4 + kPi * 0.16)) < 0.05);
  }

  void theWidestAndTallestAreFoundInADoor() {
    for (const auto& [width, height] : std::vector<std::pair<double, double>>{{0.9, 2.1}, {1.3, 1.95}, {2.2, 2.6}}) {
      ThreadedJob job;
      const auto found = pipeline::widestPassing(projectWith({}), doorway(width, height), 0, {2, 0, 4}, {10, 0, 4}, job);
      QVERIFY(found.ok());
      QVERIFY2(std::abs(found->radius.most - width / 2) < 0.006, qPrintable(QString::number(found->radius.most)));
      QVERIFY(found->radius.cause.find("wall_") != std::string::npos);
      QVERIFY(std::abs(found->radius.at.x - 6) < 1.2);
      QVERIFY2(std::abs(found->height.most - height) < 0.006, qPrintable(QString::number(found->height.most)));
      QVERIFY(found->height.cause.find("lintel") != std::string::npos);
    }
  }
  void nobodyPassesAClosedWall() {
    ThreadedJob job;
    const auto found = pipeline::widestPassing(projectWith({}), doorway(0.02, 2), 0, {2, 0, 4}, {10, 0, 4}, job);
    QVERIFY(found.ok());
    QCOMPARE(found->radius.most, 0.0);
    QVERIFY2(found->radius.cause.find("wall_") != std::string::npos, found->radius.cause.c_str());
    QVERIFY(std::abs(found->radius.at.x - 6) < 1.2);
  }
  void whyNobodyPassesIsTheLimitThatStopsThem() {
    ThreadedJob job;
    const auto low = pipeline::widestPassing(projectWith({}), doorway(1.3, 1.2), 0, {2, 0, 4}, {10, 0, 4}, job);
    QVERIFY(low.ok() && low->radius.most == 0 && low->height.most > 1.1);
    QVERIFY2(low->radius.cause.find("lintel") != std::string::npos, low->radius.cause.c_str());
    const auto nowhere = pipeline::widestPassing(projectWith({}), doorway(1.3, 2), 0, {2, 0, 4}, {40, 0, 4}, job);
    QVERIFY(nowhere.ok() && nowhere->radius.most == 0 && nowhere->height.most == 0);
    QVERIFY2(nowhere->radius.cause.starts_with("the goal is on no ground"), nowhere->radius.cause.c_str());
    QVERIFY(nowhere->radius.at == Vec3(40, 0, 4));
  }
  void aSweepFindsTheDoorsThreshold() {
    project::Project p = projectWith({});
    project::edit(p.routes, [](project::RoutesSection& s) { s.routes = {{1, "through", {2, 0, 4}, {10, 0, 4}}}; });
    ThreadedJob job;
    const auto sweep = pipeline::sweep(p, doorway(1.1, 2.2), 0, {pipeline::SweptLimit::radius, 0.2, 0.9, 8}, job);
    QVERIFY(sweep.ok());
    QCOMPARE((*sweep)->thresholds.size(), std::size_t{1});
    QVERIFY2(std::abs((*sweep)->thresholds[0].value - 0.55) < 0.001, qPrintable(QString::number((*sweep)->thresholds[0].value)));
    QVERIFY(!(*sweep)->thresholds[0].above);
    // It says where and why: in the door, by the walls beside it.
    QVERIFY((*sweep)->thresholds[0].cause.find("wall_") != std::string::npos);
    QVERIFY(std::abs((*sweep)->thresholds[0].at.x - 6) < 1.2);
    // Beyond it only the half before the wall is reached.
    const auto& points = (*sweep)->points;
    QVERIFY(points.back().reachable < points.front().reachable / 2);
    const auto heights = pipeline::sweep(p, doorway(1.1, 2.2), 0, {pipeline::SweptLimit::height, 1, 3, 5}, job);
    QVERIFY(std::abs((*heights)->thresholds.at(0).value - 2.2) < 0.002);
  }
  void cornersOnTheWayAreNotWhatStopsIt() {
    // The shortest way touches the corners of two pillars, which a wider agent only goes around; the door is what stops it.
    const auto level = Scene()
                           .floor(0, 0, 20, 10)
                           .box({4, 0, 2}, {5, 2, 8.5}, "pillar_1")
                           .box({8, 0, 1.5}, {9, 2, 8}, "pillar_2")
                           .box({14, 0, 0}, {14.3, 2, 4.5}, "wall_1")
                           .box({14, 0, 5.5}, {14.3, 2, 10}, "wall_2")
                           .world()
                           .level;
    project::Project p = projectWith({});
    const Vec3 from{2, 0, 5}, to{17, 0, 5};
    project::edit(p.routes, [&](project::RoutesSection& s) { s.routes = {{1, "through", from, to}}; });
    ThreadedJob job;
    const auto sweep = pipeline::sweep(p, level, 0, {pipeline::SweptLimit::radius, 0.2, 0.7, 6}, job);
    QVERIFY(sweep.ok());
    const auto fits = pipeline::widestPassing(p, level, 0, from, to, job);
    QVERIFY(fits.ok() && std::abs(fits->radius.most - 0.5) < 0.006);
    for (const auto& [at, cause] :
         {std::pair((*sweep)->thresholds.at(0).at, (*sweep)->thresholds.at(0).cause), std::pair(fits->radius.at, fits->radius.cause)}) {
      QVERIFY2(cause.find("wall_") != std::string::npos, cause.c_str());
      QVERIFY(std::abs(at.x - 14.15) < 1 && std::abs(at.z - 5) < 0.6);
    }
  }
  void aRouteThatNeedsALinkIsStoppedByTheLink() {
    // Where it lands there is a roof of 1.5 m: taller agents have no ground within its reach.
    const auto level = Scene().floor(0, 0, 8, 8).floor(9.5, 0, 18, 8, 0, "far").box({9, 1.5, -1}, {13, 1.7, 9}, "roof").world().level;
    project::Project p = projectWith({});
    const Vec3 from{2, 0, 4}, to{16, 0, 4};
    project::edit(p.routes, [&](project::RoutesSection& s) { s.routes = {{1, "over", from, to}}; });
    project::edit(p.links, [](project::LinksSection& s) { s.links = {{7, nav::LinkKind::jump, {7.2, 0, 4}, {10.3, 0, 4}, false, 0}}; });
    project::edit(p.agents, [](project::AgentsSection& s) { s.agents[0].maxJump = 1.6; });
    ThreadedJob job;
    const auto sweep = pipeline::sweep(p, level, 0, {pipeline::SweptLimit::height, 1, 2, 4}, job);
    QVERIFY(sweep.ok());
    QCOMPARE((*sweep)->thresholds.size(), std::size_t{1});
    const pipeline::Threshold& t = (*sweep)->thresholds[0];
    QVERIFY(std::abs(t.value - 1.5) < 0.002 && !t.above);
    QVERIFY2(t.cause.starts_with("link 7: its landing"), t.cause.c_str());
    QVERIFY(glm::distance(t.at, Vec3(7.2, 0, 4)) < 0.5);
  }
  void senselessRangesAreRefusedAndCancelIsHeard() {
    ThreadedJob job;
    for (const pipeline::SweepPlan& plan : {pipeline::SweepPlan{pipeline::SweptLimit::radius, 0.5, 0.5, 5},
                                            {pipeline::SweptLimit::radius, -1, 1, 5},
                                            {pipeline::SweptLimit::radius, 0.1, 1, 1}})
      QVERIFY(pipeline::sweep(projectWith({}), doorway(1, 2), 0, plan, job).problem().code == ProblemCode::usage);
    std::stop_source stop;
    stop.request_stop();
    ThreadedJob stopped(stop.get_token());
    QVERIFY(pipeline::sweep(projectWith({}), doorway(1, 2), 0, {pipeline::SweptLimit::radius, 0.2, 0.9, 8}, stopped).problem().code ==
            ProblemCode::cancelled);
    QVERIFY(pipeline::widestPassing(projectWith({}), doorway(1, 2), 0, {2, 0, 4}, {10, 0, 4}, stopped).problem().code ==
            ProblemCode::cancelled);
  }

  void everyReasonIsGivenAndItsChangeHelps() {
    // A steep ramp under a low deck, marked as an obstacle: three things forbid it, and with all three changed it is walkable.
    level::World world = Scene().floor(-4, 0, 0, 4).ramp(0, 0, 4, 4, 0, 4).floor(-4, 0, 8, 4, 5.2, "deck").world();
    world.roles[1] = level::Role::obstacle;
    nav::Agent agent;
    agent.height = 3, agent.radius = 0.2;
    ThreadedJob job;
    const Vec3 at{3, 3, 2};
    const auto answer = pipeline::explainPlace(world, agent, at, job);
    QVERIFY(answer.ok());
    std::vector<ground::Verdict> verdicts;
    for (const ground::Hindrance& h : answer->all) verdicts.push_back(h.verdict);
    QCOMPARE(verdicts.size(), std::size_t{2});  // 45° is allowed
    QVERIFY(verdicts[0] == ground::Verdict::notGround && verdicts[1] == ground::Verdict::headroom);
    QVERIFY(std::abs(answer->all[1].measured - 2.2) < 1e-6);
    agent.maxSlope = 44;
    QCOMPARE(pipeline::explainPlace(world, agent, at, job)->all.size(), std::size_t{3});
    agent.maxSlope = 45, agent.height = 1.9, world.roles[1] = level::Role::ground;
    QVERIFY(pipeline::explainPlace(world, agent, at, job)->all.empty());
    QVERIFY(pipeline::explainPlace(world, agent, at, job)->walkable());
  }
  void firstReasonAndAllReasonsAgreeEverywhere() {
    for (std::uint64_t seed = 0; seed < 12; ++seed) {
      test::Random random(seed);
      Scene scene;
      scene.floor(0, 0, 12, 12).ramp(8, 8, 11, 11, 0, random.in(0.5, 4));
      for (int i = 0; i < 6; ++i) {
        const Vec3 a{random.in(0, 10), random.in(0, 2), random.in(0, 10)};
        scene.box(a, a + Vec3{random.in(0.3, 2), random.in(0.1, 2), random.in(0.3, 2)}, "box " + std::to_string(i));
      }
      const auto b = built(scene.world());
      pipeline::Explainer explainer;
      for (int i = 0; i < 200; ++i) {
        const Vec3 at{random.in(-0.5, 12.5), random.in(0, 3), random.in(-0.5, 12.5)};
        const auto e = explainer.at(b, at);
        const ground::Hindrance& first = e.decides;
        QCOMPARE(e.walkable(), first.verdict == ground::Verdict::walkable);
        if (!e.walkable()) QVERIFY(e.sentence.find(e.all[0].clause()) != std::string::npos && first.clause() == e.all[0].clause());
        // And the explanation agrees with the mesh.
        const bool onMesh = test::on(b->mesh, e.at).valid();
        if (first.verdict == ground::Verdict::walkable && first.measured > b->agent.radius + 0.03) QVERIFY(onMesh);
        if (first.verdict != ground::Verdict::walkable && first.verdict != ground::Verdict::noSurface && onMesh)
          QVERIFY2(first.measured > b->agent.radius - 0.01 || first.rise != 0 || first.verdict == ground::Verdict::nearCeiling,
                   e.sentence.c_str());
      }
    }
  }
};

QTEST_APPLESS_MAIN(TestChange)
#include "change.moc"
