// Islands that nobody means go when a least size is set, unless something stands on them.

#include <QtTest>

#include "core/pipeline/explainer.h"
#include "core/pipeline/ground.h"
#include "core/pipeline/remedy.h"
#include "core/project/file.h"
#include "core/review/findings.h"
#include "tests/core/scenes.h"

using namespace dune;
using test::built;
using test::Scene;

namespace {

/// A floor with a crate whose top is 1.2 m square to stand on, a wall whose top is 0.2 m wide and 9.2 m long, and a lamp.
level::World yard() {
  return Scene().floor(0, 0, 20, 20).box({3, -1, 3}, {5, 3, 5}).box({8, -1, 5}, {18, 3, 6}).box({5, -1, 12}, {5.9, 2.5, 12.9}).world();
}

std::size_t islandsOf(const level::World& world) { return nav::countIslands(built(world)->mesh); }

}  // namespace

class TestIslands : public QObject {
  Q_OBJECT

 private slots:
  void whatIsTooSmallGoes() {
    level::World world = yard();
    QCOMPARE(islandsOf(world), std::size_t{4});
    world.leastIsland = {0.1, 0};
    QCOMPARE(islandsOf(world), std::size_t{3});  // without the lamp
    world.leastIsland = {1.5, 0};
    QCOMPARE(islandsOf(world), std::size_t{2});  // the wall is larger
    world.leastIsland = {0, 0.5};
    QCOMPARE(islandsOf(world), std::size_t{2});  // but narrow: the crate stays
    world.leastIsland = {1.5, 0.5};
    QCOMPARE(islandsOf(world), std::size_t{1});
    world.leastIsland = {1000, 0};
    QCOMPARE(islandsOf(world), std::size_t{0});
  }
  void whatIsUsedStays() {
    level::World world = yard();
    world.leastIsland = {2, 0.5};
    world.used = {{4, 3, 4}};
    QCOMPARE(islandsOf(world), std::size_t{2});
    world.used = {{4, 0.5, 4}};  // below the crate's top, on nothing
    QCOMPARE(islandsOf(world), std::size_t{1});
    world.used.clear();
    world.seeds = {{10, 0, 10}, {5.45, 2.5, 12.45}};
    QCOMPARE(islandsOf(world), std::size_t{2});  // a seed's island stays however small
  }
  void aBuildOfAPartKeepsThem() {
    // What is cut off by the rim of the part may be the end of much.
    level::World world = yard();
    world.leastIsland = {5, 0};
    ThreadedJob job;
    generate::Scope part;
    part.kind = generate::Scope::Kind::box;
    part.box.add({3.5, -4.5}), part.box.add({4.5, -3.5});
    const auto b = generate::build(world, {}, job, nullptr, part);
    QVERIFY(b.ok() && nav::countIslands((*b)->mesh) > 1);
  }
  void aProjectKeepsItsSizesAndWhatItUses() {
    project::Project p;
    project::edit(p.level, [](project::LevelSection& s) { s.leastIsland = {2.5, 0.75}; });
    const auto back = project::fromJson(project::toJson(p));
    QVERIFY(back.ok() && back->level->leastIsland == p.level->leastIsland);
    std::string bad = project::toJson(p);
    bad.replace(bad.find("2.5"), 3, "-25");
    QVERIFY(!project::fromJson(bad));
    const auto level = yard().level;
    ThreadedJob job;
    const auto ground = pipeline::makeGround(p, level, 0, nullptr, job);
    QVERIFY(ground.ok() && (*ground)->islands == 1);
    // A route to the crate's top needs its island: the ground is out of date by it.
    project::Project with = p;
    project::edit(with.routes, [](project::RoutesSection& s) { s.routes.push_back({1, "up", {10, 0, 10}, {4, 3, 4}}); });
    QVERIFY(!pipeline::holds(**ground, with, 0, {}));
    const auto again = pipeline::makeGround(with, level, 0, *ground, job);
    QVERIFY(again.ok() && (*again)->islands == 2);
  }
  void smallOnesAreOneFindingWithARemedy() {
    const auto b = built(yard());
    const auto found = review::reviewMesh(b->mesh, {}, {}, {}, {1.6});
    QCOMPARE(std::ranges::count(found, std::string("island"), &review::Finding::code), 1);  // the wall
    const auto small = std::ranges::find(found, std::string("small-islands"), &review::Finding::code);
    QVERIFY(small != found.end() && small->remedy && small->sentence.starts_with("2 islands under 1.6 m²"));
    project::Project p;
    pipeline::apply(*small->remedy, p);
    QCOMPARE(p.level->leastIsland.area, 1.6);
    QCOMPARE(std::ranges::count(review::reviewMesh(b->mesh, {}, {}, {}, {0}), std::string("island"), &review::Finding::code), 3);
  }
  void whyIsThereNoGround() {
    level::World world = yard();
    world.leastIsland = {2, 0};
    ThreadedJob job;
    const auto e = pipeline::explainPlace(world, {}, {4, 3, 4}, job);
    QVERIFY(e.ok());
    QVERIFY2(e->sentence.find("below the least size") != std::string::npos, e->sentence.c_str());
  }
};

QTEST_APPLESS_MAIN(TestIslands)
#include "islands.moc"
