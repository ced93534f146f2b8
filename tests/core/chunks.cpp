// Chunks leave no trace: joined meshes are whole, and a rebuild of what changed gives the bytes of a build from nothing.

#include <QtTest>

#include "core/meshes/mesh_files.h"
#include "core/system/threads.h"
#include "tests/core/scenes.h"

using namespace dune;
using test::built;
using test::Scene;

class TestChunks : public QObject {
  Q_OBJECT

  static std::string bytes(const nav::NavMesh& m) { return meshfile::toBytes({m, {}}); }

  /// A floor over several chunks with boxes, ramps and plates on it, at any turn.
  static level::World randomWorld(test::Random& random) {
    Scene scene;
    scene.floor(-20, -20, 24, 22, 0, "floor");
    for (int i = 0; i < 24; ++i) {
      const Vec3 a{random.in(-19, 20), random.in(-1, 0), random.in(-19, 18)};
      const std::string name = "thing " + std::to_string(i);
      if (i % 3 == 0)
        scene.ramp(a.x, a.z, a.x + random.in(2, 6), a.z + random.in(1, 3), 0, random.in(0.5, 2.5), name);
      else if (i % 3 == 1)
        scene.box(a, a + Vec3{random.in(0.2, 4), random.in(0.3, 4), random.in(0.2, 4)}, name);
      else
        scene.floor(a.x, a.z, a.x + random.in(1, 6), a.z + random.in(1, 6), random.in(0.1, 4), name);
    }
    return scene.turned(random.in(0, 6)).world();
  }

  static level::World moved(const level::World& world, std::size_t object, const Vec3& by) {
    auto level = std::make_shared<level::Level>(*world.level);
    for (Vec3& v : level->objects[object].vertices.edit()) v += by;
    level::World result = world;
    result.level = std::move(level);
    return result;
  }

 private slots:
  void aFlatFloorOverManyChunksIsOneIslandOfTheRightSize() {
    const auto b = built(Scene().floor(-50, -30, 57, 43).world());
    QVERIFY(b->chunks.size() > 20);
    QCOMPARE(nav::countIslands(b->mesh), std::size_t{1});
    QVERIFY(std::abs(nav::totalArea(b->mesh) - (107 - 0.8) * (73 - 0.8)) < 0.02 * (107 + 73));
    QCOMPARE(b->mesh.faceCount(), std::size_t{1});  // and one face
    QVERIFY(nav::checkStructure(b->mesh).empty());
  }
  void everyEdgeBetweenChunksIsShared() {
    // On a floor without obstacles no edge but the outermost may be a border.
    const auto b = built(Scene().floor(-33, -33, 33, 33).turned(0.3).world());
    double border = 0;
    for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f)
      for (std::size_t i = 0, n = b->mesh.cornerCount(nav::FaceId{f}); i < n; ++i)
        if (b->mesh.acrossOf(nav::FaceId{f})[i] == nav::kNoFace)
          border += glm::distance(b->mesh.cornerAt(nav::FaceId{f}, i), b->mesh.cornerAt(nav::FaceId{f}, (i + 1) % n));
    QVERIFY2(std::abs(border - 4 * (66 - 0.8)) < 0.1, qPrintable(QString::number(border)));
  }
  void hillsAreOneIslandAndOnTheGround() {
    level::Object o;
    o.name = "hills";
    const int side = 70;
    auto y = [](double x, double z) { return 2 * std::sin(x / 7) * std::cos(z / 9); };
    for (int r = 0; r <= side; ++r)
      for (int c = 0; c <= side; ++c) o.vertices.edit().push_back({c * 0.7, y(c * 0.7, r * 0.7), r * 0.7});
    for (std::uint32_t r = 0; r < side; ++r)
      for (std::uint32_t c = 0; c < side; ++c) {
        const std::uint32_t i = r * (side + 1) + c;
        o.triangles.edit().push_back({i, i + side + 1, i + side + 2});
        o.triangles.edit().push_back({i, i + side + 2, i + 1});
      }
    auto level = std::make_shared<level::Level>();
    level->objects.push_back(o);
    const auto b = built(level::plainWorld(level));
    QCOMPARE(nav::countIslands(b->mesh), std::size_t{1});
    QVERIFY(b->mesh.faceCount() < o.triangles.size() / 4);
    const nav::Locator locator(b->mesh);
    const ground::Soup soup(b->world);
    const ground::Standing standing(soup, b->world, b->agent);
    test::Random random(5);
    for (int i = 0; i < 3000; ++i) {
      const Vec3 p{random.in(1, 48), 0, random.in(1, 48)};
      const nav::Place at = locator.under({p.x, y(p.x, p.z), p.z}, 0.3);
      QVERIFY2(at.valid(), qPrintable(QStringLiteral("no ground at %1 %2").arg(p.x).arg(p.z)));
      QVERIFY(std::abs(standing.nearest(plan(p), at.position.y, 1) - at.position.y) <= 0.08);
    }
  }
  void aRebuildOfWhatChangedGivesTheBytesOfAFullBuild() {
    for (std::uint64_t seed = 0; seed < 12; ++seed) {
      test::Random random(seed + 40);
      level::World world = randomWorld(random);
      auto before = built(world);
      for (int change = 0; change < 4; ++change) {
        const auto object = static_cast<std::size_t>(random.upTo(static_cast<int>(world.level->objects.size() - 1))) + 1;
        switch (random.upTo(4)) {
          case 0:
            world = moved(world, object, {random.in(-3, 3), random.in(-0.2, 0.2), random.in(-3, 3)});
            break;
          case 1:
            world.roles[object] = world.roles[object] == level::Role::ignored ? level::Role::obstacle : level::Role::ignored;
            break;
          case 2: {
            auto level = std::make_shared<level::Level>(*world.level);
            level->objects.erase(level->objects.begin() + static_cast<std::ptrdiff_t>(object));
            world.roles.erase(world.roles.begin() + static_cast<std::ptrdiff_t>(object));
            world.level = level;
            break;
          }
          default:
            world.kinds.resize(1);
            world.kinds.push_back({"mud", "#333333", 3, 0, false});
            const double u = random.in(-15, 10), v = random.in(-15, 10);
            world.volumes = {{1, "mud", {{u, v}, {u + 6, v + 1}, {u + 5, v + 7}}, -5, 5}};
        }
        ThreadedJob job;
        const auto partial = generate::build(world, {}, job, before);
        QVERIFY(partial.ok());
        const auto full = built(world);
        QVERIFY2(bytes((*partial)->mesh) == bytes(full->mesh), qPrintable(QStringLiteral("seed %1 change %2").arg(seed).arg(change)));
        QCOMPARE((*partial)->clearance.limits().size(), full->clearance.limits().size());
        QVERIFY((*partial)->chunksMade < full->chunksMade);
        for (std::size_t i = 0; i < full->clearance.limits().size(); ++i)
          QCOMPARE((*partial)->clearance.limits()[i].object, full->clearance.limits()[i].object);
        QVERIFY(nav::checkStructure(full->mesh).empty());
        before = *partial;
      }
    }
  }
  void anyNumberOfThreadsGivesTheSameBytes() {
    for (std::uint64_t seed = 0; seed < 6; ++seed) {
      test::Random random(seed + 900);
      const level::World world = randomWorld(random);
      const std::string one = bytes(built(world, {}, 1)->mesh);
      for (const int threads : {2, 3, 7}) QVERIFY(bytes(built(world, {}, threads)->mesh) == one);
    }
  }
  void turnedMovedAndMirroredLevelsHaveTheSameGround() {
    for (std::uint64_t seed = 0; seed < 6; ++seed) {
      test::Random random(seed + 70);
      const level::World world = randomWorld(random);
      const auto first = built(world);
      const double area = nav::totalArea(first->mesh);
      auto changed = [&](const std::function<Vec3(const Vec3&)>& place, bool mirrored = false) {
        auto level = std::make_shared<level::Level>(*world.level);
        for (level::Object& o : level->objects)
          for (Vec3& v : o.vertices.edit()) v = place(v);
        // What is mirrored is wound the other way, or its solids would be rooms.
        if (mirrored)
          for (level::Object& o : level->objects)
            for (auto& t : o.triangles.edit()) std::swap(t[1], t[2]);
        level::World other = world;
        other.level = level;
        return nav::totalArea(built(other)->mesh);
      };
      const double angle = random.in(0, 6), c = std::cos(angle), s = std::sin(angle);
      const double allowed = 0.002 * area;
      QVERIFY2(std::abs(changed([&](const Vec3& v) {
                          return Vec3{c * v.x + s * v.z, v.y, c * v.z - s * v.x};
                        }) -
                        area) < allowed,
               "turned");
      QVERIFY2(std::abs(changed([](const Vec3& v) { return v + Vec3{7.3, 11.9, -5.17}; }) - area) < allowed, "moved");
      QVERIFY2(std::abs(changed([](const Vec3& v) { return Vec3{-v.x, v.y, v.z}; }, true) - area) < allowed, "mirrored");
      QVERIFY2(std::abs(changed([](const Vec3& v) { return v + Vec3{10'000, 0, -10'000}; }) - area) < allowed, "far from the origin");
    }
  }
  void twoLevelsFarApartAreTheSumOfBoth() {
    test::Random random(3);
    const level::World a = randomWorld(random), b = randomWorld(random);
    auto both = std::make_shared<level::Level>(*a.level);
    for (level::Object o : b.level->objects) {
      o.name += " b";
      for (Vec3& v : o.vertices.edit()) v += Vec3{1600, 0, 0};
      both->objects.push_back(o);
    }
    const auto built1 = built(a), built2 = built(b), sum = built(level::plainWorld(both));
    QCOMPARE(sum->mesh.faceCount(), built1->mesh.faceCount() + built2->mesh.faceCount());
    QVERIFY(std::abs(nav::totalArea(sum->mesh) - nav::totalArea(built1->mesh) - nav::totalArea(built2->mesh)) < 1e-6);
  }
  void boundsKeepStraysCheap() {
    // One floor with a stray corner 20 km away: too large without bounds, and no matter with them.
    level::World world = Scene().floor(0, 0, 20, 20).world();
    auto level = std::make_shared<level::Level>(*world.level);
    level->objects.push_back({"stray", {{0, -5, 0}, {20'000, -5, 20'000}, {20'000, -5, 0}}, {{0, 1, 2}}});
    world = level::plainWorld(level);
    ThreadedJob job;  // the window's: nobody has to ask for a limit
    QCOMPARE(job.memoryLimit(), std::size_t{4} << 30);
    job.setMemoryLimit(std::size_t{1} << 30);
    const auto refused = generate::build(world, {}, job);
    QVERIFY(!refused);
    QCOMPARE(refused.problem().code, ProblemCode::overLimit);
    QVERIFY(refused.problem().where.find("stray") != std::string::npos);
    world.bounds = Box3{{-1, -1, -1}, {21, 5, 21}};
    const auto built = generate::build(world, {}, job);
    QVERIFY(built.ok());
    QVERIFY(std::abs(nav::totalArea((*built)->mesh) - 19.2 * 19.2) < 0.1);
  }
};

QTEST_APPLESS_MAIN(TestChunks)
#include "chunks.moc"
