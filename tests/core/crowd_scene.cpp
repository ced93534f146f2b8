// From groups to walkers, runs and their figures, and crowds in project files.

#include <QtTest>

#include "core/base/text.h"
#include "core/nav/locator.h"
#include "core/pipeline/crowd_run.h"
#include "core/project/crowd_json.h"
#include "core/project/file.h"
#include "core/system/threads.h"
#include "tests/core/scenes.h"

using namespace dune;
using project::CrowdGroup;
using project::GoalKind;
using project::StartForm;
using test::Scene;

class TestCrowdScene : public QObject {
  Q_OBJECT

  std::shared_ptr<level::Level> level_;
  project::Project project_;
  pipeline::KindGrounds grounds_;

  static CrowdGroup group(int id, const Vec3& start, const Vec3& goal, int count) {
    CrowdGroup g;
    g.id = id, g.start = start, g.goal = goal, g.count = count;
    return g;
  }
  pipeline::CrowdScene made(std::vector<CrowdGroup> groups) {
    project::edit(project_.crowd, [&](project::CrowdSection& s) { s.groups = std::move(groups); });
    auto scene = pipeline::makeScene(project_, grounds_, 0, {});
    return scene ? std::move(scene.value()) : pipeline::CrowdScene{};
  }
  std::string refused(std::vector<CrowdGroup> groups) {
    project::edit(project_.crowd, [&](project::CrowdSection& s) { s.groups = std::move(groups); });
    const auto scene = pipeline::makeScene(project_, grounds_, 0, {});
    return scene ? std::string() : scene.problem().text();
  }

 private slots:
  void initTestCase() {
    const level::World world =
        Scene().floor(0, 0, 40, 30).box({20, -1, 10}, {21, 3, 11}, "statue").box({4, -1, 22}, {8, 1, 26}, "plinth").world();
    level_ = std::make_shared<level::Level>(*world.level);
    project::edit(project_.agents, [](project::AgentsSection& s) {
      s.agents[0].name = "Small", s.agents.push_back({s.agents[0], 2}), s.agents[1].name = "Large", s.agents[1].radius = 0.8;
    });
    ThreadedJob job;
    for (const std::size_t i : {0u, 1u}) grounds_.push_back(*pipeline::makeGround(project_, level_, i, nullptr, job));
  }

  void nobodyBeginsInsideAnother() {
    const auto scene = made({group(1, {8, 0, 8}, {30, 0, 20}, 25), group(2, {9, 0, 8}, {30, 0, 20}, 25)});
    QCOMPARE(scene.walkers.size(), std::size_t{50});
    for (std::size_t i = 0; i < 50; ++i)
      for (std::size_t k = i + 1; k < 50; ++k)
        QVERIFY(glm::distance(scene.walkers[i].start, scene.walkers[k].start) >= scene.walkers[i].radius + scene.walkers[k].radius);
  }
  void linesAndRingsBeginWhereTheyAreDrawn() {
    CrowdGroup line = group(1, {4, 0, 4}, {30, 0, 20}, 7), ring = group(2, {30, 0, 20}, {4, 0, 4}, 8);
    line.startForm = StartForm::line, line.startEnd = {10, 0, 4};
    ring.startForm = StartForm::ring, ring.startRadius = 5;
    const auto scene = made({line, ring});
    QCOMPARE(scene.walkers.size(), std::size_t{15});
    for (std::size_t i = 0; i < 7; ++i) QVERIFY(std::abs(scene.walkers[i].start.z - 4) < 1e-6 && scene.walkers[i].start.x <= 10 + 1e-6);
    for (std::size_t i = 7; i < 15; ++i) QVERIFY(std::abs(glm::distance(scene.walkers[i].start, Vec3{30, 0, 20}) - 5) < 1e-6);
  }
  void theyComeOneAfterTheOther() {
    CrowdGroup g = group(1, {8, 0, 8}, {30, 0, 20}, 5);
    g.every = 1.5;
    const auto scene = made({g});
    for (std::size_t i = 0; i < 5; ++i) QCOMPARE(scene.walkers[i].startTime, 1.5 * static_cast<double>(i));
  }
  void placesAroundAGoalAreSharedOut() {
    CrowdGroup g = group(1, {8, 0, 8}, {30, 0, 20}, 6);
    g.goalKind = GoalKind::around, g.around = 4;
    const auto scene = made({g});
    for (std::size_t i = 0; i < 6; ++i) {
      QVERIFY(std::abs(glm::distance(scene.walkers[i].goal, Vec3{30, 0, 20}) - 4) < 0.01);
      for (std::size_t k = i + 1; k < 6; ++k) QVERIFY(glm::distance(scene.walkers[i].goal, scene.walkers[k].goal) > 3);
    }
  }
  /// Beyond the border, in a ring too small for all, and round what one cannot stand in, nor come up to: everybody gets ground of its own,
  /// as far out as can be.
  void placesAroundAGoalAreGroundOfOnesOwn() {
    for (const auto& [goal, around, count] : {std::tuple<Vec3, double, int>{{0.6, 0, 20}, 4, 12},
                                              {{39, 0, 29}, 6, 20},
                                              {{20, 0, 20}, 1, 25},
                                              {{20.5, 0, 10.5}, 3, 16},
                                              {{6, 1, 24}, 4, 16},
                                              {{6, 0, 24}, 1, 8}}) {
      CrowdGroup g = group(1, {8, 0, 8}, goal, count);
      g.goalKind = GoalKind::around, g.around = around;
      const auto scene = made({g});
      const nav::Locator locator(scene.grounds[0]->mesh);
      double farthest = 0;
      for (std::size_t i = 0; i < scene.walkers.size(); ++i) {
        const crowd::Walker& w = scene.walkers[i];
        QVERIFY(locator.under(w.goal, 0.1).valid() && w.goal.y < 0.1);
        farthest = std::max(farthest, std::abs(glm::distance(plan(w.goal), plan(goal)) - around));
        for (std::size_t k = i + 1; k < scene.walkers.size(); ++k)
          QVERIFY(glm::distance(w.goal, scene.walkers[k].goal) > 0.99 * (w.radius + scene.walkers[k].radius));
      }
      QVERIFY2(farthest < 4.5, text("%g m from the ring", farthest).c_str());
    }
  }
  void namedObjectsAreGoals() {
    CrowdGroup g = group(1, {8, 0, 8}, {}, 1);
    g.goalKind = GoalKind::object, g.object = "statue";
    const auto scene = made({g});
    QVERIFY(glm::distance(scene.walkers[0].goal, Vec3{20.5, 0, 10.5}) < 1.5);
    g.object = "fountain";
    QVERIFY(refused({g}).find("fountain") != std::string::npos);
  }
  void groupsFollowGroups() {
    CrowdGroup hunters = group(2, {30, 0, 20}, {}, 4);
    hunters.goalKind = GoalKind::group, hunters.quarry = 1;
    const auto scene = made({group(1, {8, 0, 8}, {30, 0, 5}, 2), hunters});
    for (std::size_t i = 2; i < 6; ++i) QVERIFY(scene.walkers[i].chase && scene.walkers[i].chase->agent <= 2);
    hunters.quarry = 9;
    QVERIFY(refused({hunters}).find("group 9") != std::string::npos);
    hunters.quarry = 2;
    QVERIFY(!refused({hunters}).empty());
  }
  void eachKindHasItsGroundAndItsNumbers() {
    CrowdGroup large = group(2, {30, 0, 20}, {8, 0, 8}, 2);
    large.agent = 2;
    auto scene = made({group(1, {8, 0, 8}, {30, 0, 20}, 2), large});
    QCOMPARE(scene.fields.size(), std::size_t{2});
    QCOMPARE(scene.walkers[2].radius, 0.8);
    QVERIFY(scene.walkers[2].mesh != scene.walkers[0].mesh && scene.findings.empty());
    // Numbers that cannot work are said.
    CrowdGroup wrong = group(1, {8, 0, 8}, {30, 0, 20}, 2);
    wrong.radius = 0.7, wrong.speed = 9;
    scene = made({wrong});
    QCOMPARE(scene.findings.size(), std::size_t{2});
    QCOMPARE(scene.findings[0].code, std::string("wider-than-mesh"));
    QCOMPARE(scene.findings[1].code, std::string("faster-than-agent"));
  }
  void onlyTheSceneWalks() {
    CrowdGroup a = group(1, {8, 0, 8}, {30, 0, 20}, 2), b = group(2, {8, 0, 8}, {30, 0, 20}, 3);
    b.scene = "night";
    project::edit(project_.crowd, [&](project::CrowdSection& s) { s.groups = {a, b}; });
    QCOMPARE(project::scenesOf(*project_.crowd).size(), std::size_t{2});
    QCOMPARE(pipeline::makeScene(project_, grounds_, 0, "night")->walkers.size(), std::size_t{3});
    QCOMPARE(pipeline::makeScene(project_, grounds_, 0, "")->walkers.size(), std::size_t{2});
  }
  void aMomentOfARunIsGoneBackTo() {
    project::edit(project_.crowd, [&](project::CrowdSection& s) {
      s.groups = {group(1, {8, 0, 15}, {30, 0, 15}, 6), group(2, {30, 0, 15}, {8, 0, 15}, 6)};
      s.seconds = 40;
      s.obstacles = {{{1, crowd::MovingObstacle::Shape::box, {2, 2, 2}, 0, {{19, 0, 5}, {19, 0, 25}}, 1, 3}, {}}};
    });
    ThreadedJob job;
    const auto run = pipeline::runCrowd(project_, grounds_, 0, job);
    QVERIFY(run.ok() && (*run)->kept.size() > 5);
    for (const std::size_t frame : {0u, 59u, 60u, 61u, 200u, 431u})
      for (const std::size_t body : {0u, 7u}) {
        const crowd::Insight insight = (*run)->insight(frame, body, job);
        const Vec3 next = (*run)->trace.at(frame + 1, body).velocity;
        QVERIFY2(glm::distance(insight.taken, plan(next)) < 0.01, qPrintable(QStringLiteral("%1 %2").arg(frame).arg(body)));
      }
    const pipeline::RunFigures& figures = (*run)->figures;
    QCOMPARE(figures.bodies, 12.0);
    QCOMPARE(figures.arrived, 12.0);
    QVERIFY(figures.length > 20 && figures.length < 30 && figures.meanTime > 12 && figures.meanTime <= figures.lastTime);
    QCOMPARE(figures.deepest, 0.0);
    // Another way to steer is another run from the same start.
    const auto other = pipeline::runCrowd(project_, grounds_, 0, job, {}, crowd::SteeringSettings{.model = crowd::Steering::none});
    QVERIFY(other.ok() && (*other)->figures.deepest > 0.1);
    QVERIFY((*other)->trace.at(0, 3).at == (*run)->trace.at(0, 3).at);
  }
  void crowdsComeBackFromFiles() {
    CrowdGroup g = group(3, {1, 0, 2}, {3, 0, 4}, 12);
    g.name = "Night watch", g.scene = "night", g.agent = 2, g.startForm = StartForm::line, g.startEnd = {5, 0, 6}, g.every = 0.5;
    g.goalKind = GoalKind::round, g.round = {{7, 0, 8}, {9, 0, 1}}, g.speed = 1.1, g.priority = 2, g.around = 6, g.startRadius = 7;
    g.steering.model = crowd::Steering::feelers, g.steering.turnLimit = 90;
    project::edit(project_.crowd, [&](project::CrowdSection& s) {
      s.groups = {g, group(4, {1, 0, 2}, {3, 0, 4}, 12)};
      s.groups[1].startEnd = {6, 0, 2};  // of a line that is an area now: kept for when it is a line again
      s.obstacles = {{{2, crowd::MovingObstacle::Shape::cylinder, {1, 2, 1}, 0, {{1, 0, 1}, {4, 0, 1}}, 2, 0.5}, "night"}};
      s.other = crowd::SteeringSettings{.model = crowd::Steering::directionRing};
    });
    const auto back = project::fromJson(project::toJson(project_));
    QVERIFY(back.ok());
    QVERIFY(*back->crowd == *project_.crowd);
    const std::string good = project::toJson(project_);
    for (const auto& [from, to] : {std::pair<std::string, std::string>{"\"turn-limit\": 90.0", "\"turn-limit\": 900.0"},
                                   {"\"feelers\"", "\"whiskers\""},
                                   {"\"cylinder\"", "\"cone\""},
                                   {"\"round\"", "\"square\""},
                                   {"\"speed\": 1.1", "\"speed\": -1.1"}}) {
      std::string bad = good;
      QVERIFY2(bad.find(from) != std::string::npos, from.c_str());
      bad.replace(bad.find(from), from.size(), to);
      QVERIFY2(!project::fromJson(bad), to.c_str());
    }
    QVERIFY(project::steeringFromText("{\"steering\": \"feelers\", \"side\": 3}")->side == 3);
    QVERIFY(!project::steeringFromText("[1, 2]") && !project::steeringFromText("{\"side\": \"left\"}") && !project::steeringFromText("{"));
  }
};

QTEST_GUILESS_MAIN(TestCrowdScene)
#include "crowd_scene.moc"
