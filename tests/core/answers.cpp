// What a ground is asked again and again: routes, cards, and why there is or is no ground, with and without a build.

#include "core/pipeline/answers.h"
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
      Answers known = pipeline::ask(p, g, {});
      QVERIFY(saySame(known, pipeline::ask(p, g, {})));
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
        known = pipeline::ask(p, g, known);
        QVERIFY(saySame(known, pipeline::ask(p, g, {})));
      }
    }
  }
  void aCardSaysWhatItSaidOfTheGroundBefore() {
    project::Project p;
    project::edit(p.cards, [](project::CardsSection& s) { s.cards = {{1, {4, 0, 4}}, {2, {15, 0, 4}}}; });
    const Level level = yard();
    const Answers before = pipeline::ask(p, ground(p, level), {});
    QVERIFY(before.cards[0].before.empty() && before.cards[1].before.empty());
    project::edit(p.level, [](project::LevelSection& s) {
      s.blockers.push_back({1, level::BlockerShape::box, {4, 0, 4}, {1, 1, 1}, 0, level::Role::obstacle, {}, {}});
    });
    const auto changed = ground(p, level);
    const Answers after = pipeline::ask(p, changed, before);
    QCOMPARE(after.cards[0].before, before.cards[0].explanation.sentence);
    QVERIFY(!after.cards[0].explanation.walkable());
    QVERIFY(after.cards[1].before.empty());
    // Asked of the same ground again it still says so.
    QCOMPARE(pipeline::ask(p, changed, after).cards[0].before, after.cards[0].before);
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
