// What counts in a world: rules on names, blockers, objects that cut ground, findings about marks, what is said of a re-read level.

#include <QtTest>

#include "core/level/blocker.h"
#include "core/level/role_rules.h"
#include "core/pipeline/ground.h"
#include "core/pipeline/level_review.h"
#include "core/pipeline/remedy.h"
#include "tests/core/scenes.h"

using namespace dune;
using namespace dune::level;
using test::built;
using test::on;
using test::Scene;

class TestWorld : public QObject {
  Q_OBJECT

  template <class Edit>
  static project::Project project(Edit&& change) {
    project::Project p;
    project::edit(p.level, change);
    return p;
  }
  static bool has(const std::vector<review::Finding>& findings, const std::string& code) {
    return std::ranges::count(findings, code, &review::Finding::code) > 0;
  }
  /// Pattern matching by its definition, exponential but plain.
  static bool slowFits(const char* p, const char* n) {
    if (*p == 0) return *n == 0;
    if (*p == '*') return slowFits(p + 1, n) || (*n && slowFits(p, n + 1));
    return *n && (*p == '?' || std::tolower(*p) == std::tolower(*n)) && slowFits(p + 1, n + 1);
  }

 private slots:
  void patternsFitAsDefined() {
    test::Random random(4);
    int fitting = 0;
    for (int i = 0; i < 20000; ++i) {
      std::string pattern, name;
      for (int k = random.upTo(6); k > 0; --k) pattern += "ab*?A"[random.upTo(5)];
      for (int k = random.upTo(7); k > 0; --k) name += "aBb"[random.upTo(3)];
      QCOMPARE(fits(pattern, name), slowFits(pattern.c_str(), name.c_str()));
      fitting += fits(pattern, name);
    }
    QVERIFY(fitting > 500);
    QVERIFY(fits("crate*", "Crate_12") && !fits("crate", "crate_1") && fits("*", ""));
  }
  void ownMarksComeBeforeRulesAndLaterRulesBeforeEarlier() {
    const std::map<std::string, Role> marks{{"crate_1", Role::cuts}};
    const std::vector<RoleRule> rules{{"crate*", Role::obstacle}, {"crate_2*", Role::ignored}};
    QVERIFY(roleOf(Object{"crate_1", {}, {}}, marks, rules) == Role::cuts);
    QVERIFY(roleOf(Object{"crate_22", {}, {}}, marks, rules) == Role::ignored);
    QVERIFY(roleOf(Object{"crate_3", {}, {}}, marks, rules) == Role::obstacle);
    QVERIFY(roleOf(Object{"floor", {}, {}}, marks, rules) == Role::ground);
  }

  void blockersAreClosedSolidsOfTheirVolume() {
    test::Random random(8);
    for (int i = 0; i < 60; ++i) {
      Blocker b;
      b.id = 1, b.shape = static_cast<BlockerShape>(i % 4);
      b.at = {random.in(-9, 9), random.in(-2, 2), random.in(-9, 9)};
      b.size = {random.in(0.3, 4), random.in(0.3, 4), random.in(0.3, 4)};
      b.turn = random.in(-180, 180);
      // A star with dents, either way round.
      for (int k = 0; k < 9; ++k) {
        const double angle = (i % 8 < 4 ? 1 : -1) * 2 * kPi * k / 9;
        b.outline.push_back(Vec2{std::cos(angle), std::sin(angle)} * (k % 2 ? 0.25 : 0.5));
      }
      const Object o = solidOf(b);
      std::map<std::pair<std::array<double, 3>, std::array<double, 3>>, int> edges;
      auto key = [](const Vec3& p) { return std::array{p.x, p.y, p.z}; };
      double volume = 0;
      for (const auto& t : o.triangles) {
        const Vec3 &p = o.vertices[t[0]], &q = o.vertices[t[1]], &r = o.vertices[t[2]];
        volume += glm::dot(p - b.at, glm::cross(q - b.at, r - b.at)) / 6;
        for (const auto& [s, e] : {std::pair(p, q), std::pair(q, r), std::pair(r, p)})
          ++edges[{std::min(key(s), key(e)), std::max(key(s), key(e))}];
      }
      for (const auto& [edge, count] : edges) QCOMPARE(count, 2);
      const double base = std::abs(doubleArea(baseOf(b))) / 2;
      const double expected = base * b.size.y * (b.shape == BlockerShape::ramp ? 0.5 : 1);
      QVERIFY2(std::abs(std::abs(volume) - expected) < 1e-9 * expected, qPrintable(QString("%1: %2 %3").arg(i).arg(volume).arg(expected)));
    }
  }
  void blockersBlockAndHoldOnlyTheirAgents() {
    const auto level = Scene().floor(0, 0, 10, 10).world().level;
    project::Project p = project([](project::LevelSection& s) {
      s.blockers = {{1, BlockerShape::cylinder, {5, 0, 5}, {2, 1.5, 2}, 0, Role::obstacle, {}, {"wide"}}};
    });
    project::edit(p.agents, [](project::AgentsSection& s) {
      s.agents.push_back(s.agents[0]);
      s.agents[1].name = "wide";
    });
    const World narrow = pipeline::makeWorld(p, level, 0), wide = pipeline::makeWorld(p, level, 1);
    QVERIFY(narrow.level == level);
    QCOMPARE(wide.level->objects.size(), std::size_t{2});
    QVERIFY(on(built(narrow)->mesh, {5, 0, 5}).valid());
    const auto b = built(wide);
    QVERIFY(!on(b->mesh, {5, 0, 5}).valid());
    // The ring that the radius keeps around a circle of 1 m.
    const double gone = nav::totalArea(built(narrow)->mesh) - nav::totalArea(b->mesh), ring = kPi * 1.4 * 1.4;
    QVERIFY2(std::abs(gone - ring) < 0.03 * ring, qPrintable(QString::number(gone)));
  }

  void cuttingObjectsTakeTheGroundTheyLieOn() {
    // A sheet flush with the floor, one a little under it and one over it; one far below, which cuts nothing.
    for (const auto& [height, cuts] :
         std::vector<std::pair<double, bool>>{{0.0, true}, {-0.05, true}, {0.5, true}, {1.7, true}, {-0.5, false}, {1.9, false}}) {
      World world = Scene().floor(0, 0, 10, 10).floor(4, 4, 6, 6, height, "hole").world();
      world.roles[1] = Role::cuts;
      const auto b = built(world);
      QVERIFY2(on(b->mesh, {5, 0, 5}).valid() != cuts, qPrintable(QString::number(height)));
      const double expected = 9.2 * 9.2 - (cuts ? 4 + 4 * 2 * 0.4 + kPi * 0.16 : 0);
      QVERIFY2(std::abs(nav::totalArea(b->mesh) - expected) < 0.04, qPrintable(QString("%1: %2").arg(height).arg(nav::totalArea(b->mesh))));
      QVERIFY(nav::checkStructure(b->mesh).empty());
    }
  }

  void nothingMarkedAsGroundIsSaid() {
    const auto level = Scene().floor(0, 0, 10, 10).box({4, 0, 4}, {5, 1, 5}, "crate").world().level;
    QVERIFY(pipeline::levelFindings({}, *level).empty());
    const auto all = pipeline::levelFindings(project([](project::LevelSection& s) { s.rules = {{"*", Role::obstacle}}; }), *level);
    QVERIFY(has(all, "no-ground"));
    // The remedy marks the floor and not the crate, and that is enough.
    project::Project mended = project([](project::LevelSection& s) { s.rules = {{"*", Role::obstacle}}; });
    pipeline::apply(*all[0].remedy, mended);
    QCOMPARE(mended.level->roles, (std::map<std::string, Role>{{"floor", Role::ground}}));
    QVERIFY(!has(pipeline::levelFindings(mended, *level), "no-ground"));
  }
  void ignoredThingsThatStandOnGroundAreSaid() {
    const auto level = Scene()
                           .floor(0, 0, 10, 10)
                           .box({4, 0, 4}, {5, 1, 5}, "stands")
                           .box({4, 3, 4}, {5, 4, 5}, "floats")
                           .box({7, 0, 7}, {8, 0.1, 8}, "flat")
                           .box({20, 0, 20}, {21, 1, 21}, "outside")
                           .world()
                           .level;
    const auto findings =
        pipeline::levelFindings(project([](project::LevelSection& s) {
                                  s.rules = {{"*s", Role::ignored}, {"fl*at*", Role::ignored}, {"outside", Role::ignored}};
                                }),
                                *level);
    QCOMPARE(findings.size(), std::size_t{1});
    QCOMPARE(std::get<review::GiveRole>(findings[0].remedy->change).objects, std::vector<std::string>{"stands"});
    QCOMPARE(findings[0].measured, 1.0);
  }
  void marksAndRulesWithoutObjectsAreSaid() {
    const auto level = Scene().floor(0, 0, 10, 10).world().level;
    const auto findings = pipeline::levelFindings(project([](project::LevelSection& s) {
                                                    s.roles["roof"] = Role::obstacle;
                                                    s.rules = {{"tree*", Role::obstacle}};
                                                  }),
                                                  *level);
    QVERIFY(has(findings, "mark-without-object") && has(findings, "rule-without-object"));
    QCOMPARE(findings.size(), std::size_t{2});
    project::Project mended = project([](project::LevelSection& s) {
      s.roles = {{"roof", Role::obstacle}, {"floor", Role::ground}};
      s.rules = {{"tree*", Role::obstacle}, {"fl*", Role::ground}};
    });
    for (const review::Finding& f : findings) pipeline::apply(*f.remedy, mended);
    QCOMPARE(mended.level->roles.size(), std::size_t{1});
    QCOMPARE(mended.level->rules, (std::vector<RoleRule>{{"fl*", Role::ground}}));
  }
  void filesInOtherUnitsAreSaidAndReadInAnotherWay() {
    pipeline::LoadedLevel loaded;
    ImportOptions other;
    other.scale = 0.01;
    loaded.level = Scene().floor(0, 0, 10, 10).world().level;
    loaded.files = {{"/a/level.obj", {}, "", loaded.level, UnitsGuess{other, "It is large."}}};
    project::Project p = project([](project::LevelSection& s) { s.files = {{"level.obj", {}}}; });
    const auto findings = pipeline::levelFindings(p, loaded);
    QCOMPARE(findings.size(), std::size_t{1});
    QCOMPARE(findings[0].code, std::string("units"));
    pipeline::apply(*findings[0].remedy, p);
    QCOMPARE(p.level->files[0].import, other);
    // Once it is read so, what was said of the old reading is not repeated.
    QVERIFY(pipeline::levelFindings(p, loaded).empty());
  }
  void newsOfALevelNamesWhatChanged() {
    Scene scene;
    scene.floor(0, 0, 10, 10).box({4, 0, 4}, {5, 1, 5}, "crate").box({6, 0, 6}, {7, 1, 7}, "cart");
    const auto before = scene.world().level;
    QVERIFY(pipeline::levelNews(*before, *scene.world().level).empty());
    const auto after = Scene().floor(0, 0, 10, 10).box({4, 0, 4}, {5, 2, 5}, "crate").box({8, 0, 8}, {9, 1, 9}, "jar").world().level;
    const pipeline::LevelNews news = pipeline::levelNews(*before, *after);
    QVERIFY(news.changed == std::vector<std::string>{"crate"} && news.fresh == std::vector<std::string>{"jar"} &&
            news.gone == std::vector<std::string>{"cart"});
    QCOMPARE(news.sentence(), std::string("The level was read again; 1 changed: crate; 1 new: jar; 1 gone: cart."));
  }
};

QTEST_APPLESS_MAIN(TestWorld)
#include "world.moc"
