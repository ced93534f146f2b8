// What a ground is asked again and again: routes, cards, and why there is or is no ground, with and without a build.

#include "core/pipeline/answers.h"
#include "core/pipeline/sweep.h"
#include "core/system/threads.h"

#include <QtTest>

#include "core/ground/survey.h"
#include "tests/core/scenes.h"

using namespace dune;
using pipeline::Answers;
using test::Scene;

class TestAnswers : public QObject {
  Q_OBJECT

  using Level = std::shared_ptr<const level::Level>;

  static Level yard() {
    return Scene()
        .floor(0, 0, 20, 12)
        .box({9, -0.2, 0}, {10, 3, 5}, "wall")
        .box({9, -0.2, 6.5}, {10, 3, 12}, "wall 2")
        .floor(30, 0, 36, 6, 0, "island")
        .world()
        .level;
  }
  static project::Project questions(test::Random& random, int routes, int cards) {
    project::Project p;
    project::edit(p.routes, [&](project::RoutesSection& s) {
      for (int i = 0; i < routes; ++i)
        s.routes.push_back({i + 1, "r", {random.in(0, 20), 0, random.in(0, 12)}, {random.in(0, 36), 0, random.in(0, 12)}});
    });
    project::edit(p.cards, [&](project::CardsSection& s) {
      for (int i = 0; i < cards; ++i) s.cards.push_back({i + 1, {random.in(-2, 36), 0, random.in(-2, 13)}});
    });
    return p;
  }
  static std::shared_ptr<const pipeline::Ground> ground(const project::Project& p, const Level& level) {
    ThreadedJob job;
    const auto made = pipeline::makeGround(p, level, 0, nullptr, job);
    return made ? *made : nullptr;
  }
  static bool saySame(const Answers& a, const Answers& b) {
    if (a.routes.size() != b.routes.size() || a.cards.size() != b.cards.size()) return false;
    for (std::size_t i = 0; i < a.routes.size(); ++i) {
      const route::PathAnswer &x = a.routes[i].answer, &y = b.routes[i].answer;
      if (a.routes[i].id != b.routes[i].id || x.status != y.status || x.points != y.points || x.cost != y.cost) return false;
    }
    for (std::size_t i = 0; i < a.cards.size(); ++i)
      if (a.cards[i].id != b.cards[i].id || a.cards[i].at != b.cards[i].at ||
          a.cards[i].explanation.sentence != b.cards[i].explanation.sentence)
        return false;
    return true;
  }

 private slots:
  void whatIsTakenOverIsWhatAskingAnewSays() {
    for (std::uint64_t seed = 0; seed < 20; ++seed) {
      test::Random random(seed);
      project::Project p = questions(random, 6, 6);
      const Level level = yard();
      const auto g = ground(p, level);
      Answers known = pipeline::ask(p, g, 1, {});
      QVERIFY(saySame(known, pipeline::ask(p, g, 1, {})));
      // Some are moved, some go, some come; numbers of those that went are given again.
      for (int round = 0; round < 4; ++round) {
        project::edit(p.routes, [&](project::RoutesSection& s) {
          s.routes[static_cast<std::size_t>(random.upTo(6))].to = {random.in(0, 20), 0, random.in(0, 12)};
          std::swap(s.routes[0].id, s.routes[1].id);
        });
        project::edit(p.cards, [&](project::CardsSection& s) {
          s.cards.erase(s.cards.begin() + random.upTo(6));
          s.cards.push_back({random.upTo(9) + 20, {random.in(0, 20), 0, random.in(0, 12)}});
        });
        known = pipeline::ask(p, g, 1, known);
        QVERIFY(saySame(known, pipeline::ask(p, g, 1, {})));
      }
    }
  }
  void aCardSaysWhatItSaidOfTheGroundBefore() {
    project::Project p;
    project::edit(p.cards, [](project::CardsSection& s) { s.cards = {{1, {4, 0, 4}}, {2, {15, 0, 4}}}; });
    const Level level = yard();
    const Answers before = pipeline::ask(p, ground(p, level), 1, {});
    QVERIFY(before.cards[0].before.empty() && before.cards[1].before.empty());
    project::edit(p.level, [](project::LevelSection& s) {
      s.blockers.push_back({1, level::BlockerShape::box, {4, 0, 4}, {1, 1, 1}, 0, level::Role::obstacle, {}, {}});
    });
    const auto changed = ground(p, level);
    const Answers after = pipeline::ask(p, changed, 1, before);
    QCOMPARE(after.cards[0].before, before.cards[0].explanation.sentence);
    QVERIFY(!after.cards[0].explanation.walkable());
    QVERIFY(after.cards[1].before.empty());
    // Asked of the same ground again it still says so.
    QCOMPARE(pipeline::ask(p, changed, 1, after).cards[0].before, after.cards[0].before);
  }
  void whatIsExpectedOfARouteHoldsOrIsSaid() {
    // A wall with a door of 1.5 m, 0.7 m of it left to a centre: the way from west to east is 1 m longer than straight at most.
    const Level level = yard();
    project::Project p;
    project::edit(p.routes, [](project::RoutesSection& s) { s.routes = {{1, "west to east", {2, 0, 2}, {18, 0, 2}}}; });
    p.areas = std::make_shared<project::AreasSection>();
    project::edit(p.areas, [](project::AreasSection& s) {
      s.kinds.push_back({"mud", "#333333", 1.5, 0, false});
      s.volumes.push_back({1, "mud", {{8, -13}, {11, -13}, {11, 1}, {8, 1}}, -1, 1});  // all along the wall, door included
    });
    const auto g = ground(p, level);
    const auto answer = pipeline::ask(p, g, 1, {}).routes[0].answer;
    QVERIFY(answer.status == route::PathStatus::complete);
    const auto unmet = [&](auto&& change) {
      project::Project q = p;
      project::edit(q.routes, [&](project::RoutesSection& s) { change(s.routes[0]); });
      return pipeline::ask(q, g, 1, {}).routes[0].unmet;
    };
    using project::Expected;
    using project::Touch;
    const auto holds = [&](auto&& change) { return unmet(change).empty(); };
    QVERIFY(holds([](auto&) {}));
    QVERIFY(!holds([](auto& r) { r.expected.outcome = Expected::Outcome::notComplete; }));
    QVERIFY(holds([](auto& r) { r.expected.outcome = Expected::Outcome::any; }));
    // Each limit on both sides of what is.
    const auto both = [&](std::optional<double> Expected::*limit, double is, bool most) {
      QVERIFY(holds([&](auto& r) { r.expected.*limit = is; }));
      QVERIFY(holds([&](auto& r) { r.expected.*limit = is + (most ? 0.01 : -0.01); }));
      const auto found = unmet([&](auto& r) { r.expected.*limit = is + (most ? -0.01 : 0.01); });
      QCOMPARE(found.size(), std::size_t{1});
      QVERIFY(std::abs(found[0].measured - is) < 1e-9);
    };
    both(&Expected::mostLength, answer.length, true), both(&Expected::leastLength, answer.length, false);
    both(&Expected::mostCost, answer.cost, true), both(&Expected::leastCost, answer.cost, false);
    both(&Expected::leastWidth, answer.narrowest, false);
    both(&Expected::mostLonger, (answer.length / 16 - 1) * 100, true);
    QVERIFY(std::abs(answer.narrowest - 1.5) < 0.01);
    for (const bool must : {true, false}) {
      QCOMPARE(holds([&](auto& r) { r.expected.touches = {{Touch::What::kind, must, "mud"}}; }), must);
      QCOMPARE(holds([&](auto& r) { r.expected.touches = {{Touch::What::kind, must, "ice"}}; }), !must);
      QCOMPARE(holds([&](auto& r) { r.expected.touches = {{Touch::What::link, must, "", 7}}; }), !must);
      QCOMPARE(holds([&](auto& r) { r.expected.touches = {{Touch::What::box, must, "", 0, {{9, -1, 5}, {10, 1, 7}}}}; }), must);
      QCOMPARE(holds([&](auto& r) { r.expected.touches = {{Touch::What::box, must, "", 0, {{9, 1, 5}, {10, 2, 7}}}}; }), !must);  // over it
    }
    QVERIFY(holds([&](auto& r) { r.expected.sameWay = answer.points; }));
    const auto other = unmet([](auto& r) { r.expected.sameWay = {{2, 0, 2}, {18, 0, 2}}; });
    QVERIFY(other.size() == 1 && other[0].measured > 2 && other[0].sentence.find("another way") != std::string::npos);
    // The island: no way, which may be meant.
    const auto island = unmet([](auto& r) { r.to = {33, 0, 3}; });
    QVERIFY(island.size() == 1 && island[0].sentence.find("island") != std::string::npos);
    QVERIFY(holds([](auto& r) { r.to = {33, 0, 3}, r.expected.outcome = Expected::Outcome::notComplete; }));
  }
  void whatWouldOpenAWayIsFoundOutOnce() {
    const Level level = yard();
    project::Project p;
    project::edit(p.level, [](project::LevelSection& s) {
      s.blockers.push_back({1, level::BlockerShape::box, {9.5, 0, 5.75}, {1, 2, 0.8}, 0, level::Role::obstacle, {}, {}});
    });
    project::edit(p.routes, [](project::RoutesSection& s) { s.routes = {{1, "r", {2, 0, 6}, {18, 0, 6}}}; });
    const auto g = ground(p, level);
    const Answers quick = pipeline::ask(p, g, 1, {});
    QVERIFY(!quick.routes[0].explained && quick.routes[0].answer.openings.empty());
    ThreadedJob job;
    const Answers whole = pipeline::ask(p, g, 1, quick, &job);
    QVERIFY(whole.routes[0].explained && whole.routes[0].answer.openings.size() == 1);
    QVERIFY2(whole.routes[0].unmet[0].sentence.find("would open it") != std::string::npos, whole.routes[0].unmet[0].sentence.c_str());
    QCOMPARE(pipeline::ask(p, g, 1, whole).routes[0].answer.note, whole.routes[0].answer.note);
    QCOMPARE(pipeline::ask(p, g, 1, whole, &job).routes[0].answer.note, whole.routes[0].answer.note);
  }
  void aRouteWithoutItsKindOfAgentIsSaid() {
    project::Project p;
    project::edit(p.routes, [](project::RoutesSection& s) { s.routes = {{1, "r", {2, 0, 6}, {18, 0, 6}, 9}}; });
    const auto found = pipeline::routeFindings(p, {});
    QVERIFY(found.size() == 1 && found[0].sentence.find("kind of agent is not there") != std::string::npos);
  }
  void endsFollowTheirNames() {
    const Level level = yard();
    project::Project p;
    project::edit(p.places, [](project::PlacesSection& s) { s.places = {{1, "gate", {3, 0, 3}}}; });
    project::edit(p.routes, [](project::RoutesSection& s) { s.routes = {{1, "r", {2, 0, 2}, {18, 0, 2}}}; });
    project::edit(p.routes, [](project::RoutesSection& s) { s.routes[0].fromName = "gate", s.routes[0].toName = "island"; });
    const auto g = ground(p, level);
    auto answers = pipeline::ask(p, g, 1, {});
    QCOMPARE(answers.routes[0].ends.from, Vec3(3, 0, 3));
    QCOMPARE(answers.routes[0].ends.to, Vec3(33, 0, 3));
    project::edit(p.places, [](project::PlacesSection& s) { s.places[0].at = {4, 0, 3}; });
    answers = pipeline::ask(p, g, 1, answers);
    QCOMPARE(answers.routes[0].answer.start.used, Vec3(4, 0, 3));
    project::edit(p.places, [](project::PlacesSection& s) { s.places.clear(); });
    answers = pipeline::ask(p, g, 1, answers);
    QVERIFY(answers.routes[0].unmet[0].sentence.find("\"gate\" any more") != std::string::npos);
    QCOMPARE(pipeline::routeFindings(p, answers.routes).size(), answers.routes[0].unmet.size());
  }
  void routesOfAnotherKindAreNotAsked() {
    const Level level = yard();
    project::Project p;
    project::edit(p.places, [](project::PlacesSection& s) { s.places = {{1, "gate", {3, 0, 3}}}; });
    project::edit(p.routes, [](project::RoutesSection& s) {
      s.routes = {{1, "whoever", {2, 0, 2}, {18, 0, 2}},
                  {2, "another's", {2, 0, 2}, {18, 0, 2}, 2},
                  {3, "from the gate", {2, 0, 2}, {18, 0, 2}, 1}};
      s.routes[2].fromName = "gate";
    });
    const auto g = ground(p, level);
    QCOMPARE(pipeline::ask(p, g, 1, {}).routes.size(), std::size_t{2});
    QCOMPARE(pipeline::ask(p, g, 2, {}).routes.size(), std::size_t{2});
    // Neither by a sweep of that kind, which asks from where the ends are by now.
    const auto asked = pipeline::routesOf(p, *level, 1).routes;
    QVERIFY(asked.size() == 2 && asked[1].id == 3 && asked[1].from == Vec3(3, 0, 3));
    ThreadedJob job;
    const auto sweep = pipeline::sweep(p, level, 0, {pipeline::SweptLimit::radius, 0.3, 1.2, 4}, job);
    QVERIFY(sweep && (*sweep)->points[0].complete.size() == 2);
    QCOMPARE((*sweep)->thresholds.size(), std::size_t{2});
    QCOMPARE((*sweep)->routes.routes[(*sweep)->thresholds[1].route].name, std::string("from the gate"));
  }
  void anIslandStaysWhereANamedEndIs() {
    const Level level = yard();
    project::Project p;
    project::edit(p.level, [](project::LevelSection& s) { s.leastIsland.area = 60; });
    project::edit(p.routes, [](project::RoutesSection& s) { s.routes = {{1, "r", {2, 0, 2}, {18, 0, 2}}}; });
    const auto without = ground(p, level);
    QVERIFY(!without->locator().nearest({33, 0, 3}, 1).valid());
    project::edit(p.routes, [](project::RoutesSection& s) { s.routes[0].toName = "island"; });
    QVERIFY(!pipeline::holds(*without, p, 0));
    QVERIFY(ground(p, level)->locator().nearest({33, 0, 3}, 1).valid());
  }
  void whatBecameOfARouteIsTold() {
    project::Project p;
    project::edit(p.routes, [](project::RoutesSection& s) { s.routes = {{1, "r", {2, 0, 6}, {18, 0, 6}}}; });
    const Level level = yard();
    const Answers before = pipeline::ask(p, ground(p, level), 1, {});
    project::edit(p.level, [](project::LevelSection& s) {
      s.blockers.push_back({1, level::BlockerShape::box, {9.5, 0, 5.75}, {2, 1, 2}, 0, level::Role::obstacle, {}, {}});
    });
    const Answers after = pipeline::ask(p, ground(p, level), 1, before);
    QVERIFY(after.routes[0].before);
    QCOMPARE(pipeline::changeOf(*after.routes[0].before, after.routes[0].answer), std::string("complete → partial"));
  }
  void explainingWithAndWithoutABuildAgree_data() {
    QTest::addColumn<bool>("seeds");
    QTest::addColumn<double>("crouch");
    QTest::newRow("plain") << false << 0.0;
    QTest::newRow("seeds") << true << 0.0;
    QTest::newRow("crouching") << false << 1.0;
  }
  void explainingWithAndWithoutABuildAgree() {
    QFETCH(bool, seeds);
    QFETCH(double, crouch);
    level::World world = Scene()
                             .floor(0, 0, 20, 12)
                             .box({9, -0.2, 0}, {10, 3, 5}, "wall")
                             .box({3, 1.3, 3}, {6, 1.4, 8}, "shelf")
                             .floor(30, 0, 36, 6, 0, "island")
                             .world();
    if (seeds) world.seeds = {{2, 0, 2}};
    nav::Agent agent;
    agent.crouchHeight = crouch;
    ThreadedJob job;
    const auto level = world.level;
    project::Project p;
    project::edit(p.agents, [&](project::AgentsSection& s) { s.agents = {agent}; });
    project::edit(p.level, [&](project::LevelSection& s) { s.seeds = world.seeds; });
    const auto g = ground(p, level);
    QVERIFY(g != nullptr);
    pipeline::Explainer explainer;
    test::Random random(7);
    int walkable = 0, unreached = 0, crouching = 0;
    for (int i = 0; i < 60; ++i) {
      const Vec3 at{random.in(-1, 37), 0, random.in(-1, 13)};
      const ground::Explanation built = explainer.at(*g, at);
      const auto alone = pipeline::explainPlace(world, agent, at, job);
      QVERIFY(alone.ok());
      QCOMPARE(alone->sentence, built.sentence);
      QCOMPARE(alone->all.size(), built.all.size());
      walkable += built.walkable(), unreached += built.decides.verdict == ground::Verdict::unreached,
          crouching += built.upright.has_value();
    }
    QVERIFY(walkable > 10);
    QCOMPARE(unreached > 0, seeds);
    QCOMPARE(crouching > 0, crouch > 0);
  }
  void lookingAheadFindsWhatTheSurveyFinds() {
    for (std::uint64_t seed = 0; seed < 20; ++seed) {
      test::Random random(seed);
      Scene scene;
      for (int i = 0; i < 12; ++i) {
        const Vec3 a{random.in(-90, 90), random.in(-2, 2), random.in(-90, 90)};
        scene.box(a, a + Vec3{random.in(0.1, 40), 1, random.in(0.1, 40)}, "box " + std::to_string(i));
      }
      level::World world = scene.turned(random.in(0, 6)).world();
      world.roles[3] = level::Role::ignored;
      ThreadedJob job;
      const double size = 16, halo = ground::haloFor(world, nav::Agent{});
      const auto survey = ground::Survey::make(world, size, halo, job);
      const auto ahead = ground::Survey::lookAhead(world, size, halo, job);
      QVERIFY(survey.ok() && ahead.ok());
      QCOMPARE(ahead->chunks, (*survey)->chunks().size());
      QCOMPARE(ahead->bytes, (*survey)->memoryEstimate());
    }
    ThreadedJob small;
    small.setMemoryLimit(1000);
    const auto refused = ground::Survey::lookAhead(level::plainWorld(yard()), 16, 1, small);
    QVERIFY(!refused && refused.problem().code == ProblemCode::overLimit);
  }
};

QTEST_APPLESS_MAIN(TestAnswers)
#include "answers.moc"
