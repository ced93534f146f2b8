#include <QTemporaryDir>
#include <QtTest>
#include <numbers>
#include <random>

#include "core/ground/ground_kind.h"
#include "core/level/ground_rules.h"
#include "core/pipeline/ground.h"
#include "core/pipeline/level_review.h"
#include "core/pipeline/remedy.h"
#include "core/project/file.h"
#include "core/project/rules.h"
#include "tests/core/scenes.h"

using namespace dune;
using test::built;
using test::Scene;

namespace {

using Rules = std::vector<level::GroundRule>;

/// A world with the kinds water, road and grass after the first, by names.
level::World named(const Scene& scene, const Rules& rules) {
  level::World world = scene.world();
  for (const char* name : {"water", "road", "grass"}) world.kinds.push_back({name, "#4f8fb3", 2, 0, false});
  world.ground = level::groundKinds(*world.level, world.level->objects.size(), rules, world.kinds);
  return world;
}

double areaOf(const nav::NavMesh& mesh, std::size_t kind) {
  double area = 0;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    if (mesh.area[f] == kind) area += nav::faceArea(mesh, nav::FaceId{f});
  return area;
}

bool about(double x, double expected) { return std::abs(x - expected) < 0.05; }

/// A square of two triangles, the second of another material.
level::Object twoMaterials() {
  level::Object plaza;
  plaza.name = "plaza";
  plaza.vertices = {{20, 0, 0}, {20, 0, 10}, {30, 0, 10}, {30, 0, 0}};
  plaza.triangles = {{0, 1, 2}, {0, 2, 3}};
  plaza.materials = {{"stone", 0}, {"grass/long", 1}};
  return plaza;
}

/// Four slopes down to a hollow.
level::Object bowl() {
  level::Object bowl;
  bowl.name = "bowl";
  bowl.vertices = {{-10, 0, -10}, {-10, 0, 10}, {10, 0, 10}, {10, 0, -10}, {0, -1, 0}};
  bowl.triangles = {{0, 1, 4}, {1, 2, 4}, {2, 3, 4}, {3, 0, 4}};
  return bowl;
}

project::Project projectWith(const Rules& rules) {
  project::Project p;
  project::edit(p.areas, [&](project::AreasSection& s) { s.kinds.push_back({"water", "#4f8fb3", 2, 0, false}), s.byName = rules; });
  return p;
}

}  // namespace

/// Ground is of a kind by what the level is modelled as: exactly there, at every turn.
class TestKinds : public QObject {
  Q_OBJECT

 private slots:
  void groundIsOfItsKindToTheEdge() {
    for (int turn = 0; turn < 360; turn += 24) {
      Scene scene;
      scene.floor(0, 0, 20, 20).floor(5, 5, 10, 12, 0.02, "lake").ramp(20, 0, 30, 20, 0, 3, "road_1");  // the lake is a sheet on the floor
      scene.turned(turn * std::numbers::pi / 180, {turn > 180 ? 8000.0 : 0.0, 0, 0});
      const auto mesh = built(named(scene, {{"lake*", "water"}, {"ROAD*", "road"}}))->mesh;
      QVERIFY2(about(areaOf(mesh, 1), 35) && about(areaOf(mesh, 2), 9.6 * 19.2), qPrintable(QString::number(turn)));
      QCOMPARE(nav::countIslands(mesh), std::size_t{1});
      QVERIFY(nav::checkStructure(mesh).empty());
    }
  }
  void waterInAHollowEndsAtItsShore() {
    for (int turn = 0; turn < 360; turn += 40) {
      Scene scene;
      scene.objects().push_back(bowl());
      scene.floor(-8, -8, 8, 8, -0.4, "sea").turned(turn * std::numbers::pi / 180);  // goes on under the slopes
      const auto mesh = built(named(scene, {{"sea", "water"}}))->mesh;
      QVERIFY2(about(areaOf(mesh, 1), 144) && nav::checkStructure(mesh).empty(), qPrintable(QString::number(turn)));
      QCOMPARE(nav::countIslands(mesh), std::size_t{1});
    }
  }
  void materialsCountForWhatIsOfThem() {
    Scene scene;
    scene.objects().push_back(twoMaterials());
    const auto areas = [&](const Rules& rules) {
      const auto mesh = built(named(scene, rules))->mesh;
      return std::array{areaOf(mesh, 0), areaOf(mesh, 1), areaOf(mesh, 3)};
    };
    const double all = 9.2 * 9.2;
    const auto half = areas({{"grass/*", "grass"}});
    QVERIFY(about(half[0], all / 2) && about(half[2], all / 2));
    const auto later = areas({{"grass/*", "grass"}, {"plaza", "water"}});  // the last that fits counts
    QVERIFY(about(later[1], all) && later[2] == 0);
    const auto earlier = areas({{"plaza", "water"}, {"grass/*", "grass"}});
    QVERIFY(about(earlier[1], all / 2) && about(earlier[2], all / 2));
    const auto none = areas({{"grass/*", "no such kind"}});
    QVERIFY(about(none[0], all));
  }
  /// Sheets, slopes and steps by chance, of kinds by chance: wherever one stands, the face is of the kind of what one stands on.
  void byChanceEverywhereAsWhatOneStandsOn() {
    std::mt19937_64 random(5);
    const auto any = [&](double from, double to) { return std::uniform_real_distribution(from, to)(random); };
    int asked = 0, wrong = 0;
    for (int round = 0; round < 24; ++round) {
      Scene scene;
      scene.floor(0, 0, 24, 24, 0, "plain_0");
      Rules rules;
      for (int i = 1; i < 9; ++i) {
        const std::string name = std::string(i % 3 == 0 ? "plain_" : i % 3 == 1 ? "wet_" : "hard_") + std::to_string(i);
        const double x = any(1, 16), z = any(1, 16), w = any(2, 7), d = any(2, 7);
        if (i % 2 == 0)
          scene.floor(x, z, x + w, z + d, any(0, 0.1), name);
        else if (i % 4 == 1)
          scene.ramp(x, z, x + w, z + d, -any(0, 0.3), any(0, 0.6), name);  // through what is there
        else
          scene.box({x, -1, z}, {x + w, any(0.05, 0.3), z + d}, name);
      }
      scene.turned(any(0, 7));
      const auto b = built(named(scene, {{"wet*", "water"}, {"hard*", "road"}}));
      QVERIFY(nav::checkStructure(b->mesh).empty());
      const ground::Soup soup(b->world);
      const ground::Standing standing(soup, b->world, b->agent);
      const nav::Locator locator(b->mesh);
      const auto right = [&](const nav::Place& p, double aside) {
        for (const Vec3& by : {Vec3{0}, Vec3{aside, 0, 0}, Vec3{-aside, 0, 0}, Vec3{0, 0, aside}, Vec3{0, 0, -aside}})
          if (ground::kindAt(standing, p.position + by).number == b->mesh.area[nav::index(p.face)]) return true;
        return false;
      };
      for (int i = 0; i < 1500; ++i) {
        const nav::Place p = locator.under({any(-30, 30), 1, any(-30, 30)}, 2);
        if (!p.valid()) continue;
        ++asked, wrong += !right(p, 0.03);
      }
    }
    QVERIFY2(asked > 5000 && wrong == 0, qPrintable(QString("%1 of %2").arg(wrong).arg(asked)));
  }
  void whereNobodyStandsTheNearestGroundCounts() {
    Scene scene;
    scene.ramp(0, 0, 1, 10, 0, 3, "wet_bank");
    const auto world = named(scene, {{"wet*", "water"}});
    const ground::Soup soup(world);
    const nav::Agent agent;
    const ground::Standing standing(soup, world, agent);
    QCOMPARE(ground::kindAt(standing, {0.5, 1.7, 5}).number, std::size_t{1});
    QCOMPARE(ground::kindAt(standing, {0.5, 2.6, 5}).number, std::size_t{0});  // too far over it
  }
  void volumesGoBeforeNames() {
    Scene scene;
    scene.floor(0, 0, 20, 20, 0, "lake");
    level::World world = named(scene, {{"lake", "water"}});
    level::AreaVolume dry;
    dry.kind = "ground", dry.bottom = -1, dry.top = 1;
    for (const Vec3& p : {Vec3{5, 0, 5}, Vec3{10, 0, 5}, Vec3{10, 0, 10}, Vec3{5, 0, 10}}) dry.outline.push_back(plan(p));
    world.volumes.push_back(dry);
    const auto mesh = built(world)->mesh;
    QVERIFY(about(areaOf(mesh, 0), 25) && about(areaOf(mesh, 1), 19.2 * 19.2 - 25));
  }
  void storeysKeepTheirOwn() {
    Scene scene;
    scene.floor(0, 0, 20, 20, 0, "lake").floor(0, 0, 20, 20, 3, "deck");
    const auto mesh = built(named(scene, {{"lake", "water"}}))->mesh;
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
      QCOMPARE(mesh.area[f], std::uint16_t(nav::middleOf(mesh, nav::FaceId{f}).y < 1 ? 1 : 0));
  }
  /// A changed rule makes only the chunks anew that have such ground, and comes out as a whole build does.
  void aChangedNameMakesOnlyWhatHasItAnew() {
    Scene scene;
    scene.floor(0, 0, 200, 20).floor(90, 5, 100, 12, 0.02, "lake");
    const nav::Agent agent;
    Job job;
    const auto before = *generate::build(named(scene, {}), agent, job);
    const auto world = named(scene, {{"lake", "water"}});
    const auto after = *generate::build(world, agent, job, before);
    QVERIFY(after->chunksMade > 0 && after->chunksMade * 3 < after->chunks.size());
    const auto whole = *generate::build(world, agent, job);
    QVERIFY(after->mesh.area == whole->mesh.area && after->mesh.vertices == whole->mesh.vertices && about(areaOf(whole->mesh, 1), 70));
  }
  void namesAreKeptAndFollowTheirKind() {
    project::Project p = projectWith({{"liquid/*", "water"}, {"moat?", "ground"}});
    QTemporaryDir folder;
    const std::string file = folder.filePath(QStringLiteral("a.dunestep")).toStdString();
    QVERIFY(bool(project::save(file, p)));
    const auto read = project::load(file);
    QVERIFY(read && *read->areas == *p.areas);
    project::renameKind(p, "water", "brine");
    QCOMPARE(p.areas->byName[0].kind, std::string("brine"));
    project::removeKind(p, "brine");
    QCOMPARE(p.areas->byName.size(), std::size_t{1});
  }
  void aNameThatNothingHasIsFound() {
    Scene scene;
    scene.floor(0, 0, 20, 20, 0, "lake");
    project::Project p = projectWith({{"lake", "water"}, {"river*", "water"}});
    auto findings = pipeline::levelFindings(p, *scene.world().level);
    QCOMPARE(findings.size(), std::size_t{1});
    QVERIFY(findings[0].code == std::string("rule-without-object") && findings[0].sentence.find("river*") != std::string::npos);
    pipeline::apply(*findings[0].remedy, p);
    QCOMPARE(p.areas->byName, Rules({{"lake", "water"}}));
  }
};

QTEST_APPLESS_MAIN(TestKinds)
#include "kinds.moc"
