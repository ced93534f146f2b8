// Meshes from elsewhere: taken over, judged, mended.

#include <QtTest>

#include <random>

#include "core/exchange/hand_script.h"
#include "core/hand/take_over.h"
#include "core/meshes/mesh_files.h"
#include "core/meshes/raw_mesh_files.h"
#include "core/nav/structure.h"
#include "core/pipeline/explainer.h"
#include "core/pipeline/given_review.h"
#include "core/pipeline/mend.h"
#include "core/pipeline/sweep.h"
#include "core/project/file.h"
#include "core/review/shape_review.h"
#include "tests/core/scenes.h"

using namespace dune;
using level::RawMesh;
using test::Scene;

namespace {

const std::vector<nav::Kind> kKinds{nav::Kind{}};
const std::vector<hand::Mend> kAll{{hand::Mend::What::turn}, {hand::Mend::What::close}, {hand::Mend::What::thin}, {hand::Mend::What::join}};

/// A grid of squares, each of two triangles with corners of their own, as files often have them.
RawMesh squares(int columns, int rows) {
  RawMesh raw;
  const auto corner = [&](int i, int k) {
    raw.corners.push_back({static_cast<double>(i), 0, static_cast<double>(k)});
    return static_cast<std::uint32_t>(raw.corners.size() - 1);
  };
  for (int i = 0; i < columns; ++i)
    for (int k = 0; k < rows; ++k) {
      raw.faces.push_back({corner(i, k), corner(i, k + 1), corner(i + 1, k + 1)});
      raw.faces.push_back({corner(i, k), corner(i + 1, k + 1), corner(i + 1, k)});
    }
  return raw;
}

/// Ground over a given mesh, in a level or in none.
struct Elsewhere {
  project::Project project;
  std::shared_ptr<level::Level> level = std::make_shared<level::Level>();

  explicit Elsewhere(RawMesh raw, const level::Level& under = {}) {
    *level = under;
    level->given.push_back(std::make_shared<const RawMesh>(std::move(raw)));
    project::edit(project.level, [](project::LevelSection& s) { s.given.push_back({0, "elsewhere.obj"}); });
  }
  std::shared_ptr<const pipeline::Ground> ground() const {
    Job job;
    auto made = pipeline::makeGround(project, level, 0, nullptr, job);
    if (!made) qWarning() << made.problem().text().c_str();
    return made ? *made : nullptr;
  }
  std::map<std::string, int> told() const {
    std::map<std::string, int> count;
    const auto made = ground();
    for (const review::Finding& f : made->findings) ++count[f.code];
    return count;
  }
  pipeline::MendedAll mend(const std::string& code = {}) {
    Job job;
    auto mended = pipeline::mendAll(project, level, 0, code, job);
    if (!mended) qFatal("%s", mended.problem().text().c_str());
    project = mended->project;
    return *mended;
  }
};

QString wrongWith(const nav::NavMesh& mesh) {
  QStringList all;
  for (const std::string& sentence : nav::checkStructure(mesh)) all << QString::fromStdString(sentence);
  return all.join("; ");
}

int manyTimes(int usual) { return usual * std::max(1, qEnvironmentVariableIntValue("DUNE_MANY_SOUPS")); }

bool leads(const pipeline::Ground& ground, const Vec3& from, const Vec3& to) {
  route::Search search(*ground.field);
  return route::findPath(*ground.field, search, from, to).status == route::PathStatus::complete;
}

}  // namespace

class TestGiven : public QObject {
  Q_OBJECT

 private slots:
  void cornersInOnePlaceBecomeOne() {
    const auto taken = hand::takeOver(squares(4, 3), {}, kKinds);
    QCOMPARE(taken.mesh.faceCount(), std::size_t{24});
    QCOMPARE(taken.mesh.vertices.size(), std::size_t{20});
    QCOMPARE(nav::countIslands(taken.mesh), std::size_t{1});
    QVERIFY2(wrongWith(taken.mesh).isEmpty(), qPrintable(wrongWith(taken.mesh)));
    QCOMPARE(nav::totalArea(taken.mesh), 12.0);
  }

  void aFileThatLooksDownIsTurnedAsAWhole() {
    RawMesh raw = squares(4, 3);
    for (auto& face : raw.faces) std::ranges::reverse(face);
    QCOMPARE(nav::totalArea(hand::takeOver(raw, {}, kKinds).mesh), 12.0);
    std::ranges::reverse(raw.faces[5]);
    const auto taken = hand::takeOver(raw, {}, kKinds);
    QCOMPARE(nav::totalArea(taken.mesh), 11.5);
    QCOMPARE(taken.notes.leftOut.size(), std::size_t{1});
    QVERIFY(taken.notes.leftOut[0].why == hand::LeftOut::Why::looksDown);
  }

  void aCornerOnASideBecomesOneOfBoth() {
    // Two squares beside one that is twice as long.
    const RawMesh raw{{{0, 0, 0}, {0, 0, 2}, {2, 0, 2}, {2, 0, 0}, {2, 0, 1}, {3, 0, 0}, {3, 0, 1}, {3, 0, 2}},
                      {{0, 1, 2, 3}, {3, 4, 6, 5}, {4, 2, 7, 6}},
                      {}};
    const auto taken = hand::takeOver(raw, {}, kKinds);
    QCOMPARE(taken.notes.inserted, std::size_t{1});
    QCOMPARE(nav::countIslands(taken.mesh), std::size_t{1});
    QVERIFY2(wrongWith(taken.mesh).isEmpty(), qPrintable(wrongWith(taken.mesh)));
  }

  void whatIsNoGroundIsLeftOutAndTold() {
    RawMesh raw{{{0, 0, 0}, {0, 0, 4}, {4, 0, 4}, {1, 0, 3}, {4, 0, 0}, {0, 3, 0}, {9, 9, 9}},
                {{0, 1, 3, 2}, {0, 4, 5}, {0, 2, 4}, {0, 1, 0}},
                {}};  // one that is not convex, an upright one, a good one, and one without area
    const auto taken = hand::takeOver(raw, {}, kKinds);
    QVERIFY2(wrongWith(taken.mesh).isEmpty(), qPrintable(wrongWith(taken.mesh)));
    QCOMPARE(taken.notes.cut, std::size_t{1});
    QCOMPARE(taken.notes.unused, std::size_t{1});
    QCOMPARE(std::ranges::count(taken.notes.leftOut, hand::LeftOut::Why::noArea, &hand::LeftOut::why), 2);
  }

  void oursComeBackAsTheyWere() {
    const auto built = test::built(Scene().floor(0, 0, 20, 12).box({4, 0, 3}, {6, 2, 5}, "crate").world());
    const QTemporaryDir dir;
    for (const char* name : {"m.dsmesh", "m.json"}) {
      const std::string path = dir.filePath(name).toStdString();
      QVERIFY(meshes::writeMesh(path, meshes::Content{built->mesh, built->rules()}).ok());
      Job job;
      const auto raw = meshes::readRawMesh(path, {}, job);
      QVERIFY(raw.ok());
      const auto taken = hand::takeOver(*raw, built->mesh.agent, built->mesh.kinds);
      QCOMPARE(taken.mesh.faceCount(), built->mesh.faceCount());
      QVERIFY(std::abs(nav::totalArea(taken.mesh) - nav::totalArea(built->mesh)) < 1e-6);
      QVERIFY(taken.notes.leftOut.empty());
      QCOMPARE(nav::countIslands(taken.mesh), nav::countIslands(built->mesh));
    }
  }

  /// What is one before it is mended is one afterwards, and no ground goes but needles.
  void mendingPartsNothing() {
    for (int scene = 0; scene < manyTimes(12); ++scene) {
      std::mt19937 random(static_cast<unsigned>(scene));
      const auto number = [&](double from, double to) { return std::uniform_real_distribution<double>(from, to)(random); };
      Scene made;
      made.floor(0, 0, 20, 14).ramp(4, 10, 12, 13, 0, 2.4).floor(12, 10, 18, 13, 2.4, "upper");
      for (int i = 0; i < 12; ++i) {
        const double x = number(0, 18), z = number(0, 9), size = number(0.2, 1.5);
        made.box({x, 0, z}, {x + size, number(0.1, 1.5), z + number(0.2, 1.5)}, "box" + std::to_string(i));
      }
      made.turned(number(0, 6));
      const nav::NavMesh mesh = test::built(made.world())->mesh;
      RawMesh raw{{mesh.vertices.begin(), mesh.vertices.end()}, {}, {}};
      for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
        const auto own = mesh.cornersOf(nav::FaceId{f});
        for (std::size_t i = 1; i + 1 < own.size(); ++i) raw.faces.push_back({own[0], own[i], own[i + 1]});
      }
      const nav::NavMesh before = hand::takeOver(raw, {}, kKinds).mesh;
      for (const std::vector<hand::Mend>& mends : {std::vector<hand::Mend>{{hand::Mend::What::thin}}, kAll}) {
        const nav::NavMesh after = hand::takeOver(raw, {}, kKinds, mends).mesh;
        QVERIFY2(wrongWith(after).isEmpty(), qPrintable(QString("scene %1: %2").arg(scene).arg(wrongWith(after))));
        QVERIFY2(nav::countIslands(after) <= nav::countIslands(before), qPrintable(QString::number(scene)));
        QVERIFY2(std::abs(nav::totalArea(after) - nav::totalArea(before)) < 0.01 * nav::totalArea(before),
                 qPrintable(QString("scene %1: %2 of %3 m²").arg(scene).arg(nav::totalArea(after)).arg(nav::totalArea(before))));
      }
    }
  }

  /// Whatever a file holds, what comes of it keeps every promise of a mesh, and no ground is there twice that was not.
  void anySoupBecomesAMesh() {
    for (int scene = 0; scene < manyTimes(300); ++scene) {
      std::mt19937 random(static_cast<unsigned>(scene));
      const auto number = [&](double from, double to) { return std::uniform_real_distribution<double>(from, to)(random); };
      RawMesh raw;
      const int corners = 4 + scene % 40;
      for (int i = 0; i < corners; ++i) {
        const double grain = scene % 3 == 0 ? 1 : 0.001;  // on a grid corners meet and sides lie on sides
        raw.corners.push_back(
            {std::round(number(0, 6) / grain) * grain, std::round(number(0, 2)) * 0.3, std::round(number(0, 6) / grain) * grain});
      }
      for (int f = 0; f < corners; ++f) {
        raw.faces.emplace_back();
        for (int i = 0; i < 3 + f % 4; ++i) raw.faces.back().push_back(static_cast<std::uint32_t>(random() % raw.corners.size()));
      }
      for (const std::vector<hand::Mend>& mends : {std::vector<hand::Mend>{}, kAll}) {
        const auto taken = hand::takeOver(raw, {}, kKinds, mends);
        QVERIFY2(wrongWith(taken.mesh).isEmpty(), qPrintable(QString("scene %1: %2").arg(scene).arg(wrongWith(taken.mesh))));
      }
    }
  }

  void aMeshFromElsewhereIsTheGroundOfItsAgent() {
    Elsewhere other(squares(6, 4));
    const auto ground = other.ground();
    QVERIFY(ground && ground->given);
    QCOMPARE(ground->area, 24.0);
    Job job;
    // Nothing changed: the same; built again where the document has it no more.
    QCOMPARE(*pipeline::makeGround(other.project, other.level, 0, ground, job), ground);
    QVERIFY(leads(*ground, {0.5, 0, 0.5}, {5.5, 0, 3.5}));
    const std::string text = project::toJson(other.project);
    QVERIFY(project::fromJson(text)->same(other.project));
  }

  /// Of it the reasons of a build say nothing; limits change nothing, and a mesh that is not read is a problem and no crash.
  void whatAsksABuildIsAnsweredForIt() {
    Elsewhere other(squares(6, 4), *Scene().floor(0, 0, 20, 20).world().level);
    const auto ground = other.ground();
    pipeline::Explainer explainer;
    QVERIFY(explainer.at(*ground, {3, 0, 2}).walkable());
    const ground::Explanation beside = explainer.at(*ground, {12, 0, 2});
    QVERIFY(!beside.walkable() && beside.sentence.find("mesh from elsewhere") != std::string::npos);
    Job job;
    QVERIFY(!pipeline::sweep(other.project, other.level, 0, {pipeline::SweptLimit::radius, 0.2, 0.6, 4}, job));
    QVERIFY(!pipeline::widestPassing(other.project, other.level, 0, {1, 0, 1}, {5, 0, 3}, job));
    const auto unread = std::make_shared<level::Level>(*Scene().floor(0, 0, 20, 20).world().level);
    QVERIFY(!pipeline::makeGround(other.project, unread, 0, nullptr, job));
  }

  /// Drops and jumps are found along its border as along that of a built one.
  void linksAreFoundAlongIt() {
    const auto level = Scene().floor(0, 0, 8, 6).floor(9.5, 0, 16, 6).world().level;
    const RawMesh raw{
        {{0.4, 0, 0.4}, {0.4, 0, 5.6}, {7.6, 0, 5.6}, {7.6, 0, 0.4}, {9.9, 0, 0.4}, {9.9, 0, 5.6}, {15.6, 0, 5.6}, {15.6, 0, 0.4}},
        {{0, 1, 2, 3}, {4, 5, 6, 7}},
        {}};
    Elsewhere other(raw, *level);
    project::edit(other.project.agents, [](project::AgentsSection& s) { s.agents[0].maxJump = 3; });
    QVERIFY(!leads(*other.ground(), {2, 0, 3}, {14, 0, 3}));
    project::edit(other.project.links, [](project::LinksSection& s) { s.find = true; });
    QVERIFY(!other.ground()->mesh.links.empty());
    QVERIFY(leads(*other.ground(), {2, 0, 3}, {14, 0, 3}));
  }

  void everyFaultIsToldWithARemedyThatMendsIt() {
    RawMesh raw = squares(6, 4);
    std::ranges::reverse(raw.faces[7]);  // looks down
    const auto more = [&](std::vector<Vec3> corners) {
      std::vector<std::uint32_t> face;
      for (const Vec3& p : corners) face.push_back(static_cast<std::uint32_t>(raw.corners.size())), raw.corners.push_back(p);
      raw.faces.push_back(std::move(face));
    };
    more({{6.02, 0, 1}, {6.02, 0, 3}, {8, 0, 3}, {8, 0, 1}});                    // beside a seam that is open by 2 cm
    more({{3, 0.05, 2.2}, {3, 0.05, 3.2}, {4.5, 0.05, 3.2}, {4.5, 0.05, 2.2}});  // over others
    more({{0, 0, 4}, {0, 0, 4.012}, {1, 0, 4}});                                 // a needle at the border
    more({{20, 0, 0}, {20, 0, 2}, {22, 0, 2}, {22, 0, 0}});                      // an island
    Elsewhere other(std::move(raw));
    const auto told = other.told();
    for (const char* code : {"inverted-face", "open-seam", "overlapping-faces", "needle-face", "island", "needless-faces"})
      QVERIFY2(told.contains(code), code);
    for (const char* code : {"inverted-face", "open-seam", "overlapping-faces", "needle-face"}) {
      const auto mended = other.mend(code);
      QVERIFY2(mended.done > 0 && mended.left == 0, code);
      QVERIFY2(!other.told().contains(code), code);
      QVERIFY2(wrongWith(other.ground()->mesh).isEmpty(), qPrintable(wrongWith(other.ground()->mesh)));
    }
    // The seam is closed: one walks from the one side to the other.
    QVERIFY(leads(*other.ground(), {1, 0, 1.5}, {7.5, 0, 2}));
    QVERIFY(other.mend().left == 0);
    QVERIFY(other.told().contains("island"));  // nothing is taken away unasked
    QCOMPARE(other.mend("island").done, std::size_t{1});
    const auto ground = other.ground();
    QCOMPARE(ground->islands, std::size_t{1});
    QVERIFY2(ground->mesh.faceCount() < 30, qPrintable(QString::number(ground->mesh.faceCount())));
    QVERIFY(std::abs(ground->area - 28) < 0.1);
    for (const auto& [code, count] : other.told()) QVERIFY2(code == "patch-moved" || count == 0, code.c_str());
  }

  void whatFloatsIsDraped() {
    const auto level = Scene().floor(0, 0, 6, 4, 0).world().level;
    RawMesh raw = squares(6, 4);
    for (int k = 0; k < 6; ++k) raw.corners[static_cast<std::size_t>(k)].y = 0.6;
    Elsewhere other(std::move(raw), *level);
    QVERIFY(other.told().contains("off-level"));
    QVERIFY(other.mend("off-level").done > 0);
    QVERIFY(!other.told().contains("off-level"));
  }

  /// Grids with random faults: all of them are mended, none is lost, and the mesh holds at every step.
  void randomFaultsAreMended() {
    for (int scene = 0; scene < manyTimes(40); ++scene) {
      std::mt19937 random(static_cast<unsigned>(scene));
      const auto number = [&](double from, double to) { return std::uniform_real_distribution<double>(from, to)(random); };
      RawMesh raw = squares(8, 6);
      // Corners of one place apart by up to 6 cm: seams that are open here and closed there.
      for (Vec3& p : raw.corners)
        if (scene % 2 == 0 && number(0, 1) < 0.2) p.x += number(-0.02, 0.02), p.z += number(-0.02, 0.02);
      for (int i = 0; i < 4; ++i) std::ranges::reverse(raw.faces[random() % raw.faces.size()]);
      Elsewhere other(std::move(raw));
      other.mend("inverted-face");
      other.mend();
      const auto ground = other.ground();
      QVERIFY2(wrongWith(ground->mesh).isEmpty(), qPrintable(QString("scene %1: %2").arg(scene).arg(wrongWith(ground->mesh))));
      for (const auto& [code, count] : other.told())
        QVERIFY2(code == "unreached" || code == "small-islands",
                 qPrintable(QString("scene %1: %2 %3").arg(scene).arg(count).arg(code.c_str())));
      QVERIFY2(std::abs(ground->area - 48) < 1.5, qPrintable(QString("scene %1: %2 m²").arg(scene).arg(ground->area)));
      QVERIFY2(leads(*ground, {0.3, 0, 0.3}, {7.7, 0, 5.7}), qPrintable(QString::number(scene)));
    }
  }

  /// A crate drawn where the mesh has ground: it is taken away a radius around it, and comes back without it.
  void blockersTakeItsGround() {
    Elsewhere scene(squares(10, 10));
    const double before = scene.ground()->area;
    project::edit(scene.project.level, [](project::LevelSection& s) {
      level::Blocker crate;
      crate.id = 1, crate.at = {5, 0, 5}, crate.size = {2, 1.5, 1};
      s.blockers = {crate};
    });
    const auto with = scene.ground();
    QCOMPARE(wrongWith(with->mesh), QString());
    const double r = with->mesh.agent.radius, gone = 2 * 1 + 2 * (2 + 1) * r + kPi * r * r;
    QVERIFY2(before - with->area > gone - 0.01 && before - with->area < gone + 0.03, qPrintable(QString::number(before - with->area)));
    const std::string why = pipeline::Explainer().at(*with, {5, 0, 5.7}).sentence;
    QVERIFY2(why.find("blocker 1 stands on the mesh from elsewhere") != std::string::npos, why.c_str());
    project::edit(scene.project.level, [](project::LevelSection& s) { s.blockers.clear(); });
    QCOMPARE(scene.ground()->area, before);
  }
};

QTEST_GUILESS_MAIN(TestGiven)
#include "given.moc"
