#include <QTemporaryDir>
#include <QtTest>

#include "core/exchange/hand_script.h"
#include "core/hand/tag_volumes.h"
#include "core/hand/take_over.h"
#include "core/meshes/mesh_files.h"
#include "core/meshes/raw_mesh_files.h"
#include "core/pipeline/ground.h"
#include "core/project/file.h"
#include "core/project/rules.h"
#include "tests/core/scenes.h"

using namespace dune;
using test::built;
using test::Scene;

namespace {

level::AreaVolume box(const std::vector<std::string>& tags, double x0, double z0, double x1, double z1, const std::string& kind = {}) {
  level::AreaVolume volume;
  volume.kind = kind, volume.bottom = -1, volume.top = 1, volume.tags = tags;
  for (const Vec3& p : {Vec3{x0, 0, z0}, Vec3{x1, 0, z0}, Vec3{x1, 0, z1}, Vec3{x0, 0, z1}}) volume.outline.push_back(plan(p));
  return volume;
}

level::World floorWith(const std::vector<level::AreaVolume>& volumes) {
  Scene scene;
  scene.floor(0, 0, 20, 20);
  level::World world = scene.world();
  world.kinds.push_back({"mud", "#705030", 3, 0, false});
  world.volumes = volumes;
  return world;
}

/// Plan area of what has all of some tags and nothing else.
double areaWith(const nav::NavMesh& mesh, const std::vector<std::string>& tags) {
  double area = 0;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    if (nav::tagNamesOf(mesh, nav::FaceId{f}) == tags) area += nav::faceArea(mesh, nav::FaceId{f});
  return area;
}

bool about(double x, double expected) { return std::abs(x - expected) < 0.02; }

using Words = std::vector<std::string>;

const std::vector<level::AreaVolume> kOverlapping{box({"no spawning"}, 2, 2, 8, 8), box({"noisy", "dark"}, 5, 5, 12, 8),
                                                  box({"dark"}, 10, 10, 14, 14, "mud")};

}  // namespace

/// Words that a person gives to ground go out with it, and change nothing else.
class TestTags : public QObject {
  Q_OBJECT

 private slots:
  void whatLiesInVolumesHasTheirTags() {
    const auto mesh = built(floorWith(kOverlapping))->mesh;
    QCOMPARE(mesh.tags, Words({"dark", "no spawning", "noisy"}));
    QVERIFY(about(areaWith(mesh, {"no spawning"}), 36 - 9) && about(areaWith(mesh, {"dark", "no spawning", "noisy"}), 9));
    QVERIFY(about(areaWith(mesh, {"dark", "noisy"}), 21 - 9) && about(areaWith(mesh, {"dark"}), 16));
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
      QCOMPARE(mesh.area[f] == 1, nav::tagNamesOf(mesh, nav::FaceId{f}) == Words{"dark"});
    QVERIFY(nav::checkStructure(mesh).empty() && nav::countIslands(mesh) == 1);
  }
  void withoutTagsNothingIsOtherwise() {
    auto tagged = floorWith({box({}, 2, 2, 8, 8)}), plain = floorWith({});
    QVERIFY(built(tagged)->mesh.tagged.empty());
    QVERIFY(about(nav::totalArea(built(tagged)->mesh), nav::totalArea(built(plain)->mesh)));
  }
  void aChangedTagIsInThePartialBuild() {
    const nav::Agent agent;
    Job job;
    const auto before = *generate::build(floorWith({box({"a"}, 2, 2, 8, 8)}), agent, job);
    // Another word before it in the list: what the bits mean changes.
    const auto world = floorWith({box({"b"}, 2, 2, 8, 8), box({"a"}, 10, 10, 12, 12)});
    const auto after = *generate::build(world, agent, job, before);
    QVERIFY(about(areaWith(after->mesh, {"b"}), 36) && about(areaWith(after->mesh, {"a"}), 4));
    QCOMPARE(after->mesh.tagged, (*generate::build(world, agent, job))->mesh.tagged);
  }
  void filesHaveThem() {
    const auto mesh = built(floorWith(kOverlapping))->mesh;
    const meshfile::Content content{mesh, {{{1, 0, false}, {3, 0, false}}}};
    const auto binary = meshfile::fromBytes(meshfile::toBytes(content));
    QVERIFY(binary && binary->mesh.tags == mesh.tags && binary->mesh.tagged == mesh.tagged);
    const auto json = meshes::meshFromJson(meshes::meshToJson(content));
    QVERIFY(bool(json));
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
      auto read = nav::tagNamesOf(json->mesh, nav::FaceId{f});
      std::ranges::sort(read);
      QCOMPARE(read, nav::tagNamesOf(mesh, nav::FaceId{f}));
    }
    const std::string obj = meshes::meshToObj(mesh), glb = meshes::meshToGlb(mesh);
    QVERIFY(obj.find("g dark no_spawning noisy\n") != std::string::npos && obj.find("usemtl mud\n") != std::string::npos);
    QVERIFY(glb.find("\"tags\":[\"dark\",\"noisy\"]") != std::string::npos && glb.find("\"name\":\"mud\"") != std::string::npos);
    const auto raw = meshes::rawFromObj(obj);
    QVERIFY(raw && std::ranges::count(raw->kinds, "mud") > 0);
  }
  void damagedOnesAreRefused() {
    auto mesh = built(floorWith(kOverlapping))->mesh;
    mesh.tagged[0] = 0x80;
    QVERIFY(!nav::checkStructure(mesh).empty());
    mesh.tagged.pop_back();
    QVERIFY(!nav::checkStructure(mesh).empty());
  }
  void aMeshFromAFileKeepsThem() {
    const auto mesh = built(floorWith(kOverlapping))->mesh;
    level::RawMesh raw{{mesh.vertices.begin(), mesh.vertices.end()}, {}, {}, mesh.tags, mesh.tagged};
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
      const auto corners = mesh.cornersOf(nav::FaceId{f});
      raw.faces.emplace_back(corners.begin(), corners.end()), raw.kinds.push_back(mesh.kindOf(nav::FaceId{f}).name);
    }
    const auto taken = hand::takeOver(raw, {}, mesh.kinds, {}).mesh;
    for (const Words& tags : {Words{"dark"}, Words{"dark", "noisy"}, Words{"no spawning"}})
      QVERIFY(about(areaWith(taken, tags), areaWith(mesh, tags)));
  }
  void handWorkLeavesThoseAround() {
    const auto mesh = built(floorWith({box({"dark"}, 2, 2, 8, 8)}))->mesh;
    hand::Work work;
    hand::Patch patch;
    patch.id = 1, patch.faces = {{{{6, 0, 6}, {6, 0, 12}, {12, 0, 12}, {12, 0, 6}}}};
    work.patches.push_back(patch);
    const auto laid = hand::lay(mesh, work, 1);
    QVERIFY(about(areaWith(laid.mesh, {"dark"}), 36 - 4) && nav::checkStructure(laid.mesh).empty());
  }
  void pickedFacesAndNothingElse() {
    Scene scene;
    scene.floor(0, 0, 20, 20)
        .floor(3, 3, 17, 17, 3, "deck")
        .box({5, 0, 5}, {7, 1.5, 7})
        .box({11, 0, 9}, {13, 1, 12})
        .ramp(20, 0, 30, 20, 0, 4);
    const auto plain = built(scene.world())->mesh;
    for (std::uint32_t step : {1u, 2u, 3u}) {
      std::vector<nav::FaceId> picked;
      double area = 0;
      for (std::uint32_t f = 0; f < plain.faceCount(); f += step)
        picked.push_back(nav::FaceId{f}), area += nav::faceArea(plain, nav::FaceId{f});
      level::World world = scene.world();
      world.volumes = hand::volumesOver(plain, picked, "here");
      const auto mesh = built(world)->mesh;
      QVERIFY2(std::abs(areaWith(mesh, {"here"}) - area) < 0.1, qPrintable(QString::number(areaWith(mesh, {"here"}) - area)));
      QVERIFY(nav::checkStructure(mesh).empty());
    }
  }
  void moreThanEightAreRefused() {
    std::vector<level::AreaVolume> volumes;
    for (int i = 0; i < 9; ++i) volumes.push_back(box({std::string("tag ") + static_cast<char>('a' + i)}, i, 2, i + 1, 8));
    Job job;
    const auto refused = generate::build(floorWith(volumes), {}, job);
    QVERIFY(!refused && refused.problem().what.find("9 different tags") != std::string::npos);
    volumes.pop_back();
    QVERIFY(about(areaWith(built(floorWith(volumes))->mesh, {"tag h"}), 6));
  }
  void scriptsGiveThem() {
    Scene scene;
    scene.floor(0, 0, 20, 20);
    Job job;
    const auto level = scene.world().level;
    const auto edited = exchange::runHandScript(R"([{"do": "tag", "faces": [[10, 0, 10]], "tag": "here"}])", {}, level, job);
    QVERIFY(edited && edited->areas->volumes.size() == 1);
    const auto ground = pipeline::makeGround(*edited, level, 0, nullptr, job);
    QVERIFY(ground && about(areaWith((*ground)->mesh, {"here"}), nav::totalArea((*ground)->mesh)));
    QVERIFY(!exchange::runHandScript(R"([{"do": "tag", "faces": [[10, 0, 10]], "tag": ""}])", {}, level, job));
  }
  void theyStayWhenAKindGoes() {
    project::Project p;
    project::edit(p.areas, [](project::AreasSection& s) {
      s.kinds.push_back({"mud", "#705030", 3, 0, false});
      s.volumes = {box({"dark"}, 2, 2, 8, 8, "mud"), box({}, 10, 10, 14, 14, "mud")};
    });
    project::removeKind(p, "mud");
    QCOMPARE(p.areas->volumes, std::vector{box({"dark"}, 2, 2, 8, 8)});
  }
  void projectsKeepThem() {
    project::Project p;
    project::edit(p.areas, [](project::AreasSection& s) { s.volumes = kOverlapping; });
    QTemporaryDir folder;
    const std::string file = folder.filePath(QStringLiteral("a.dunestep")).toStdString();
    QVERIFY(bool(project::save(file, p)));
    const auto read = project::load(file);
    QVERIFY(read && read->areas->volumes == kOverlapping);
  }
};

QTEST_APPLESS_MAIN(TestTags)
#include "tags.moc"
