// Building only a part: what is looked at is as a full build has it, the rest as it was, and nothing is lost on the way back.

#include <QtTest>

#include "core/meshes/mesh_files.h"
#include "core/pipeline/explainer.h"
#include "core/pipeline/ground.h"
#include "core/system/threads.h"
#include "tests/core/scenes.h"

using namespace dune;
using generate::Scope;
using test::Scene;

class TestScope : public QObject {
  Q_OBJECT

  using Built = std::shared_ptr<const generate::Built>;

  static Scene hall() {
    Scene scene;
    scene.floor(-40, -40, 40, 40);
    for (int i = 0; i < 12; ++i)
      scene.box({-35.0 + 6 * i, -0.5, -30.0 + 5 * i}, {-33.0 + 6 * i, 3, -28.5 + 5 * i}, "box " + std::to_string(i));
    return scene.turned(0.3);
  }
  static Built build(const level::World& world, const Built& before = nullptr, const Scope& scope = {}, const nav::Agent& agent = {}) {
    ThreadedJob job;
    const auto built = generate::build(world, agent, job, before, scope);
    return built ? *built : nullptr;
  }
  static Scope box(double u0, double v0, double u1, double v1) {
    Scope scope{Scope::Kind::box, {}};
    scope.box.add({u0, v0}), scope.box.add({u1, v1});
    return scope;
  }
  static bool sameMesh(const generate::ChunkRecord& a, const generate::ChunkRecord& b) {
    return a.mesh->points == b.mesh->points && a.mesh->corners == b.mesh->corners && a.mesh->heights == b.mesh->heights;
  }
  static bool inBox(const Built& b, std::size_t chunk, const Scope& scope) {
    return ground::chunkBox(b->chunks[chunk].id, b->survey->chunkSize()).overlaps(scope.box);
  }
  static std::string bytes(const Built& b) { return meshfile::toBytes({b->mesh, {}}); }

 private slots:
  void aBoxFromNothingHasItsGroundAndNoOther() {
    const level::World world = hall().world();
    const Scope scope = box(-10, -10, 9, 5);
    const Built full = build(world), part = build(world, nullptr, scope);
    std::size_t inside = 0;
    for (std::size_t i = 0; i < full->chunks.size(); ++i) {
      const bool wanted = inBox(full, i, scope);
      inside += wanted;
      QVERIFY(wanted ? sameMesh(part->chunks[i], full->chunks[i]) : part->chunks[i].mesh->area.empty());
      QCOMPARE(part->chunks[i].current, wanted);
    }
    QVERIFY(inside >= 4 && inside < full->chunks.size());
    QCOMPARE(part->chunksMade, inside);
    QCOMPARE(part->chunksLeft, full->chunks.size() - inside);
    QVERIFY(nav::checkStructure(part->mesh).empty());
    QVERIFY(bytes(build(world, part)) == bytes(full));
  }
  void outsideTheBoxTheOldGroundStays() {
    const level::World before = hall().world(),
                       after = hall().box({-30, -0.5, 20}, {-26, 3, 24}, "far").box({-3, -0.5, 2}, {1, 3, 4}, "near").world();
    const Scope scope = box(-6, -6, 4, 4);
    const Built was = build(before), part = build(after, was, scope), full = build(after);
    QVERIFY(part->chunksLeft > 0 && part->chunksLeft < part->chunks.size());
    for (std::size_t i = 0; i < part->chunks.size(); ++i)
      QVERIFY(sameMesh(part->chunks[i], inBox(part, i, scope) ? full->chunks[i] : was->chunks[i]));
    QVERIFY(nav::checkStructure(part->mesh).empty());
    // What changed outside is made up for as soon as everything is built.
    const Built whole = build(after, part);
    QVERIFY(bytes(whole) == bytes(full));
    QCOMPARE(whole->chunksLeft, std::size_t{0});
  }
  void onlyEmptyPlacesAreFilled() {
    const level::World before = hall().world(), after = hall().box({-3, -0.5, 2}, {1, 3, 4}, "near").world();
    const Built corner = build(before, nullptr, box(-12, -12, 4, 4)), filled = build(after, corner, {Scope::Kind::empty, {}}),
                full = build(after);
    for (std::size_t i = 0; i < filled->chunks.size(); ++i)
      QVERIFY(sameMesh(filled->chunks[i], corner->chunks[i].mesh->area.empty() ? full->chunks[i] : corner->chunks[i]));
    QVERIFY(filled->chunksLeft > 0);
    QVERIFY(nav::checkStructure(filled->mesh).empty());
    // With nothing before, everything is empty.
    QVERIFY(bytes(build(after, nullptr, {Scope::Kind::empty, {}})) == bytes(full));
  }
  void theGroundOfAnotherAgentIsNeverKept() {
    const level::World world = hall().world();
    nav::Agent other;
    other.name = "other", other.radius = 0.7;
    const Built mine = build(world), part = build(world, mine, box(-6, -6, 4, 4), other);
    for (std::size_t i = 0; i < part->chunks.size(); ++i)
      if (!part->chunks[i].current) QVERIFY(part->chunks[i].mesh->area.empty());
  }
  void itIsSaidWhereNobodyLooked() {
    project::Project project;
    const auto level = hall().world().level;
    ThreadedJob job;
    const Scope scope = box(-6, -6, 4, 4);
    const auto ground = pipeline::makeGround(project, level, 0, nullptr, job, scope);
    QVERIFY(ground.ok());
    QVERIFY(pipeline::holds(**ground, project, 0, scope) && !pipeline::holds(**ground, project, 0));
    pipeline::Explainer explainer;
    const auto inside = explainer.at(**ground, {0, 0, 0}), outside = explainer.at(**ground, {-30, 0, -10});
    QVERIFY(inside.decides.verdict != ground::Verdict::unbuilt);
    QVERIFY(outside.decides.verdict == ground::Verdict::unbuilt && !outside.walkable());
    const auto whole = pipeline::makeGround(project, level, 0, *ground, job);
    QVERIFY(whole.ok() && (*whole)->built->chunksLeft == 0);
    // A ground that was left behind says so.
    project::Project changed = project;
    project::edit(changed.agents, [](project::AgentsSection& s) { s.agents[0].maxSlope = 30; });
    const auto old = pipeline::makeGround(changed, level, 0, *whole, job, scope);
    QVERIFY(old.ok() && (*old)->built->chunksLeft > 0);
    QVERIFY(QString::fromStdString(explainer.at(**old, {-30, 0, -10}).sentence).startsWith(QStringLiteral("As an earlier build left it")));
  }
};

QTEST_APPLESS_MAIN(TestScope)
#include "scope.moc"
