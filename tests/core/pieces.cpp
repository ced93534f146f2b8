// Files that come as one object, split into what hangs together.

#include "core/level/pieces.h"

#include <QTemporaryDir>
#include <QtTest>

#include "core/base/file.h"
#include "core/level/import.h"
#include "core/level/role_rules.h"
#include "core/pipeline/level_review.h"
#include "core/project/file.h"
#include "tests/core/scenes.h"

using namespace dune;
using test::built;
using test::Scene;

namespace {

/// A box as six quads of an .obj, each with corners of its own.
std::string quads(const Vec3& a, const Vec3& b, int& corners) {
  constexpr int kSides[6][4] = {{0, 1, 5, 4}, {2, 6, 7, 3}, {0, 2, 3, 1}, {4, 5, 7, 6}, {0, 4, 6, 2}, {1, 3, 7, 5}};
  std::string text;
  for (const auto& side : kSides) {
    for (const int i : side)
      text += "v " + std::to_string(i & 1 ? b.x : a.x) + " " + std::to_string(i & 2 ? b.y : a.y) + " " + std::to_string(i & 4 ? b.z : a.z) +
              "\n";
    text += "f";
    for (int i = 1; i <= 4; ++i) text += " " + std::to_string(corners + i);
    text += "\n";
    corners += 4;
  }
  return text;
}

/// One object with a floor, two crates and a pool, by material.
std::string hall(bool withFirstCrate = true) {
  int corners = 0;
  std::string text = "g everything\nusemtl stone/slabs\n" + quads({0, -1, 0}, {20, 0, 20}, corners) + "usemtl wood\n";
  if (withFirstCrate) text += quads({3, 0, 3}, {5, 3, 5}, corners);
  text += quads({12, 0, 3}, {14, 3, 5}, corners);
  return text + "usemtl liquid/water\n" + quads({8, 0, 10}, {12, 0.1, 16}, corners);
}

std::shared_ptr<const level::Level> imported(const std::string& text, bool pieces) {
  QTemporaryDir folder;
  const std::string path = folder.filePath("hall.obj").toStdString();
  if (!writeFile(path, text)) return nullptr;
  ThreadedJob job;
  level::ImportOptions options;
  options.pieces = pieces;
  const auto level = level::importLevel(path, options, job);
  return level ? *level : nullptr;
}

std::vector<std::string> namesOf(const level::Level& level) {
  std::vector<std::string> names;
  for (const level::Object& o : level.objects) names.push_back(o.name);
  return names;
}

}  // namespace

class TestPieces : public QObject {
  Q_OBJECT

 private slots:
  void oneObjectBecomesWhatHangsTogether() {
    const auto whole = imported(hall(), false), parts = imported(hall(), true);
    QVERIFY(whole && parts);
    QCOMPARE(whole->objects.size(), std::size_t{1});
    QCOMPARE(whole->triangleCount(), parts->triangleCount());
    QCOMPARE(namesOf(*parts),
             (std::vector<std::string>{"stone/slabs at 10, 10", "wood at 4, 4", "wood at 13, 4", "liquid/water at 10, 13"}));
    for (const level::Object& o : parts->objects) QCOMPARE(o.triangles.size(), std::size_t{12});
    // The ground is the same: crates are closed as before.
    QCOMPARE(nav::totalArea(built(level::plainWorld(whole))->mesh), nav::totalArea(built(level::plainWorld(parts))->mesh));
  }
  void namesStayWhenOthersGo() {
    const auto names = namesOf(*imported(hall(false), true));
    QCOMPARE(names, (std::vector<std::string>{"stone/slabs at 10, 10", "wood at 13, 4", "liquid/water at 10, 13"}));
  }
  void materialsCountAsNamesForRules() {
    const auto parts = imported(hall(), true);
    const std::vector<level::RoleRule> rules{{"liquid/*", level::Role::ignored}, {"wood", level::Role::obstacle}};
    std::vector<level::Role> roles;
    for (const level::Object& o : parts->objects) roles.push_back(level::roleOf(o, {}, rules));
    using enum level::Role;
    QCOMPARE(roles, (std::vector<level::Role>{ground, obstacle, obstacle, ignored}));
    // Of an object of several materials none speaks for all of it.
    QVERIFY(level::roleOf(imported(hall(), false)->objects[0], {}, rules) == ground);
  }
  void rulesOnMaterialsAreRulesThatFit() {
    project::Project p;
    project::edit(p.level, [](project::LevelSection& s) {
      s.rules = {{"liquid/*", level::Role::ignored}, {"lava*", level::Role::ignored}};
    });
    const auto findings = pipeline::levelFindings(p, *imported(hall(), true));
    const auto unfit = [&](const std::string& pattern) {
      return std::ranges::any_of(
          findings, [&](const auto& f) { return f.code == "rule-without-object" && f.sentence.find(pattern) != std::string::npos; });
    };
    QVERIFY(unfit("lava*") && !unfit("liquid/*"));
  }
  void namesHaveNoNegativeNothing() {
    level::Level level;
    level::Object dust{"dust", {}, {}};
    for (std::uint32_t i = 0; i < 2; ++i) {
      for (const Vec3& v : {Vec3{-1.3, 0, -1.3}, Vec3{-1.3, 0, 0.7}, Vec3{0.7, 0, -1.3}})
        dust.vertices.edit().push_back(v + Vec3{9.0 * i, 0, 0});
      dust.triangles.edit().push_back({3 * i, 3 * i + 1, 3 * i + 2});
    }
    level.objects.push_back(dust);
    QCOMPARE(namesOf(*level::inPieces(level, "file")), (std::vector<std::string>{"dust at 0, 0", "dust at 9, 0"}));
  }
  void piecesThatLieAtOnePlaceAreToldApart() {
    Scene scene;
    for (int i = 0; i < 3; ++i) scene.floor(0, 0, 4, 4, i, "slab");
    level::Level level;
    level::Object all{"all", {}, {}};
    const level::World world = scene.world();
    for (const level::Object& o : world.level->objects) {
      const auto base = static_cast<std::uint32_t>(all.vertices.size());
      for (const Vec3& v : o.vertices) all.vertices.edit().push_back(v);
      for (const auto& t : o.triangles) all.triangles.edit().push_back({t[0] + base, t[1] + base, t[2] + base});
    }
    level.objects.push_back(all);
    const auto parts = level::inPieces(level, "file");
    QVERIFY(parts.ok());
    QCOMPARE(namesOf(*parts), (std::vector<std::string>(3, "all at 2, 2")));  // importing numbers them
    QVERIFY(parts->objects[2].vertices[0].y == 2);
  }
  void tooManyPiecesAreRefused() {
    level::Level level;
    level::Object dust{"dust", {}, {}};
    for (std::uint32_t i = 0; i <= level::kMostPieces; ++i) {
      for (const Vec3& v : {Vec3{0, 0, 0}, Vec3{0, 0, 0.5}, Vec3{0.5, 0, 0}}) dust.vertices.edit().push_back(v + Vec3{1.0 * i, 0, 0});
      dust.triangles.edit().push_back({3 * i, 3 * i + 1, 3 * i + 2});
    }
    level.objects.push_back(dust);
    const auto parts = level::inPieces(level, "file");
    QVERIFY(!parts && parts.problem().where == "file");
  }
  void projectsKeepTheChoice() {
    project::Project p;
    project::edit(p.level, [](project::LevelSection& s) {
      s.files = {{"hall.obj", {}}};
      s.files[0].import.pieces = true;
    });
    const auto back = project::fromJson(project::toJson(p));
    QVERIFY(back.ok() && back->level->files[0].import.pieces);
  }
};

QTEST_APPLESS_MAIN(TestPieces)
#include "pieces.moc"
