// Level files: names, transforms, axes, scale; broken ones are Problems that name the file.

#include <QImage>
#include <QTemporaryDir>
#include <QtTest>
#include <filesystem>

#include "core/base/file.h"
#include "core/level/blocker.h"
#include "core/level/import.h"
#include "core/pipeline/ground.h"
#include "core/system/threads.h"
#include "demo/depot.h"
#include "tests/core/scenes.h"

using namespace dune;

class TestLevel : public QObject {
  Q_OBJECT

  QTemporaryDir folder_;
  Result<std::shared_ptr<const level::Level>> read(const QString& name, const std::string& content,
                                                   const level::ImportOptions& options = {}) {
    const std::string path = folder_.filePath(name).toStdString();
    if (!writeFile(path, content)) return Problem{};
    ThreadedJob job;
    return level::importLevel(path, options, job);
  }
  static std::string square() { return "o floor\nv 0 0 0\nv 0 0 4\nv 4 0 4\nv 4 0 0\nf 1 2 3 4\n"; }

  /// One triangle whose corners are in a file beside it.
  static std::string apart(const char* buffer) {
    return std::string(R"({"asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0]}], "nodes": [{"name": "floor", "mesh": 0}],
      "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
      "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3", "min": [0, 0, 0], "max": [9, 9, 9]}],
      "bufferViews": [{"buffer": 0, "byteLength": 36}], "buffers": [{"byteLength": 36, "uri": ")") +
           buffer + "\"}]}";
  }
  static std::string corners(float side) {
    const float at[] = {0, 0, 0, 0, 0, side, side, 0, side};
    return {reinterpret_cast<const char*>(at), sizeof at};
  }

 private slots:
  void buffersBesideAGltfAreItsOwn() {
    const std::string corner = folder_.filePath("floor corners.bin").toStdString();
    QVERIFY(writeFile(corner, corners(4)).ok());
    const auto level = read("apart.gltf", apart("floor%20corners.bin"));
    QVERIFY2(level.ok(), level ? "" : level.problem().text().c_str());
    QCOMPARE((*level)->besides, std::vector<std::string>{corner});
    QCOMPARE((*level)->objects[0].bounds().max, Vec3(4, 0, 4));
    QVERIFY(std::filesystem::remove(corner));
    const auto missing = read("apart.gltf", apart("floor%20corners.bin"));
    QVERIFY(!missing && missing.problem().text().find("floor corners.bin") != std::string::npos);
  }
  void aChangedBufferIsReadAgainAndAnUnchangedOneIsNot() {
    const std::string corner = folder_.filePath("c.bin").toStdString();
    QVERIFY(writeFile(corner, corners(4)).ok() && read("c.gltf", apart("c.bin")).ok());
    project::Project p;
    project::edit(p.level, [&](project::LevelSection& s) { s.files = {{folder_.filePath("c.gltf").toStdString(), {}}}; });
    ThreadedJob job;
    const auto first = pipeline::loadLevel(p, "", job), again = pipeline::loadLevel(p, "", job, first->get());
    QVERIFY(first.ok() && again.ok());
    QVERIFY((*first)->level == (*again)->level);
    QVERIFY(writeFile(corner, corners(6) + "more").ok());
    const auto changed = pipeline::loadLevel(p, "", job, first->get());
    QVERIFY(changed.ok());
    QCOMPARE((*changed)->level->objects[0].bounds().max, Vec3(6, 0, 6));
  }
  void blockersAreAddedWithoutACopyOfTheLevel() {
    const auto level = test::Scene().floor(0, 0, 9, 9).box({1, 0, 1}, {2, 2, 2}).world().level;
    level::Blocker crate;
    crate.id = 1, crate.at = {5, 0, 5}, crate.size = {1, 1, 1};
    level::Blocker barrier = crate;
    barrier.id = 2, barrier.agents = {"Sledge"};
    const std::vector<level::Blocker> blockers{crate, barrier};
    const auto porter = level::withBlockers(level, blockers, "Porter"), sledge = level::withBlockers(level, blockers, "Sledge");
    QCOMPARE(porter->objects.size(), std::size_t{3});
    QCOMPARE(sledge->objects.size(), std::size_t{4});
    for (std::size_t o = 0; o < 2; ++o)
      for (const auto& with : {porter, sledge}) {
        QCOMPARE(with->objects[o].vertices.data(), level->objects[o].vertices.data());
        QCOMPARE(with->objects[o].triangles.data(), level->objects[o].triangles.data());
      }
    QVERIFY(level::withBlockers(level, {&barrier, 1}, "Porter") == level);
  }
  void objObjectsKeepTheirNames() {
    const auto level = read("a.obj", square() + "o wall\nv 1 0 1\nv 2 0 1\nv 2 3 1\nf 5 6 7\n");
    QVERIFY(level.ok());
    QCOMPARE((*level)->objects.size(), std::size_t{2});
    QCOMPARE((*level)->objects[0].name, std::string("floor"));
    QCOMPARE((*level)->objects[0].triangles.size(), std::size_t{2});
  }
  void scaleComesBeforeTheTurn() {
    const auto level = read("b.obj", "v 1 2 3\nv 2 2 3\nv 1 4 3\nf 1 2 3\n", {level::UpAxis::z, 0.5, 1, 1});
    QVERIFY(level.ok());
    QCOMPARE((*level)->objects[0].vertices[0], Vec3(0.5, 1.5, -1.0));
  }
  void glbTransformsAreApplied() {
    const auto level = read("d.glb", demo::depotLevel().bytes());
    QVERIFY(level.ok());
    const auto wall = std::ranges::find((*level)->objects, std::string("wall_north"), &level::Object::name);
    QVERIFY(wall != (*level)->objects.end());
    QVERIFY(glm::distance(wall->bounds().min, Vec3(0, 0, -0.4)) < 1e-5);
    QVERIFY(glm::distance(wall->bounds().max, Vec3(60, 2.4, 0)) < 1e-5);
  }
  void otherFormatsGiveTheSameGeometry() {
    const std::string ply =
        "ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\nelement face 1\n"
        "property list uchar int vertex_indices\nend_header\n0 0 0\n0 0 4\n4 0 4\n4 0 0\n4 0 1 2 3\n";
    const std::string facet = "facet normal 0 1 0\nouter loop\nvertex 0 0 0\nvertex 0 0 4\nvertex 4 0 4\nendloop\nendfacet\n";
    const std::string other = "facet normal 0 1 0\nouter loop\nvertex 0 0 0\nvertex 4 0 4\nvertex 4 0 0\nendloop\nendfacet\n";
    std::string binary(80, ' ');
    auto number = [&](auto x) { binary.append(reinterpret_cast<const char*>(&x), sizeof x); };
    number(std::uint32_t{2});
    for (const auto& corners : {std::array{0.f, 0.f, 0.f, 4.f, 4.f, 4.f}, std::array{0.f, 0.f, 4.f, 4.f, 4.f, 0.f}}) {
      for (const float n : {0.f, 1.f, 0.f}) number(n);
      for (std::size_t i = 0; i < 3; ++i) number(corners[2 * i]), number(0.f), number(corners[2 * i + 1]);
      number(std::uint16_t{0});
    }
    const std::string collada =
        "<?xml version=\"1.0\"?><COLLADA xmlns=\"http://www.collada.org/2005/11/COLLADASchema\" version=\"1.4.1\">"
        "<asset><unit meter=\"1\" name=\"meter\"/><up_axis>Y_UP</up_axis></asset><library_geometries><geometry id=\"g\" "
        "name=\"floor\"><mesh>"
        "<source id=\"p\"><float_array id=\"a\" count=\"12\">0 0 0 0 0 4 4 0 4 4 0 0</float_array><technique_common>"
        "<accessor source=\"#a\" count=\"4\" stride=\"3\"><param name=\"X\" type=\"float\"/><param name=\"Y\" type=\"float\"/>"
        "<param name=\"Z\" type=\"float\"/></accessor></technique_common></source><vertices id=\"v\"><input semantic=\"POSITION\" "
        "source=\"#p\"/>"
        "</vertices><triangles count=\"2\"><input semantic=\"VERTEX\" source=\"#v\" offset=\"0\"/><p>0 1 2 0 2 "
        "3</p></triangles></mesh></geometry>"
        "</library_geometries><library_visual_scenes><visual_scene id=\"s\"><node id=\"n\" name=\"floor\"><instance_geometry "
        "url=\"#g\"/></node>"
        "</visual_scene></library_visual_scenes><scene><instance_visual_scene url=\"#s\"/></scene></COLLADA>";
    const std::pair<QString, std::string> files[] = {
        {"s.ply", ply}, {"t.stl", "solid floor\n" + facet + other + "endsolid floor\n"}, {"b.stl", binary}, {"c.dae", collada}};
    for (const auto& [name, content] : files) {
      const auto level = read(name, content);
      QVERIFY2(level.ok(), level.ok() ? "" : level.problem().text().c_str());
      QCOMPARE((*level)->triangleCount(), std::size_t{2});
      const Box3 box = (*level)->bounds();
      QVERIFY(glm::distance(box.min, Vec3(0, 0, 0)) < 1e-5 && glm::distance(box.max, Vec3(4, 0, 4)) < 1e-5);
      QVERIFY(!(*level)->objects[0].name.empty() && (*level)->objects[0].name[0] != '<');
      // Cut short anywhere it is never taken for whole.
      for (const double part : {0.3, 0.6, 0.9}) {
        const auto cut = read("cut_" + name, content.substr(0, static_cast<std::size_t>(part * static_cast<double>(content.size()))));
        QVERIFY2(!cut, qPrintable(QString("%1 %2").arg(name).arg(part)));
      }
    }
  }
  void heightMapsAreTerrain() {
    for (const bool deep : {false, true}) {
      QImage image(5, 3, deep ? QImage::Format_Grayscale16 : QImage::Format_Grayscale8);
      for (int y = 0; y < 3; ++y)
        for (int x = 0; x < 5; ++x) {
          const double grey = (x + 5 * y) / 14.0;
          if (deep)
            reinterpret_cast<quint16*>(image.scanLine(y))[x] = static_cast<quint16>(std::lround(grey * 65535));
          else
            image.scanLine(y)[x] = static_cast<uchar>(std::lround(grey * 255));
        }
      const QString path = folder_.filePath("dunes.png");
      QVERIFY(image.save(path));
      ThreadedJob job;
      const auto level = level::importLevel(path.toStdString(), {level::UpAxis::z, 7, 2, 10}, job);  // up and scale say nothing here
      QVERIFY2(level.ok(), level.ok() ? "" : level.problem().text().c_str());
      const level::Object& o = (*level)->objects[0];
      QCOMPARE(o.name, std::string("dunes"));
      QCOMPARE(o.triangles.size(), std::size_t{4 * 2 * 2});
      for (std::size_t i = 0; i < o.vertices.size(); ++i) {
        const double column = static_cast<double>(i % 5), row = static_cast<double>(i / 5);
        QVERIFY(glm::distance(o.vertices[i], Vec3(2 * column, 10 * static_cast<double>(i) / 14, 2 * row)) < (deep ? 1e-3 : 0.03));
      }
      for (const auto& t : o.triangles) QVERIFY(glm::cross(o.vertices[t[1]] - o.vertices[t[0]], o.vertices[t[2]] - o.vertices[t[0]]).y > 0);
      const auto whole = readFile(path.toStdString());
      QVERIFY(!read("half.png", whole->substr(0, whole->size() / 2)));
    }
    QImage colours(4, 4, QImage::Format_RGB32);
    colours.fill(Qt::red);
    QVERIFY(colours.save(folder_.filePath("red.png")));
    ThreadedJob job;
    const auto refused = level::importLevel(folder_.filePath("red.png").toStdString(), {}, job);
    QVERIFY(!refused && refused.problem().what.find("colours") != std::string::npos);
  }
  void brokenFilesAreProblems_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<QByteArray>("content");
    QTest::newRow("empty") << "e.obj" << QByteArray();
    QTest::newRow("no triangles") << "p.obj" << QByteArray("v 0 0 0\nv 1 0 0\n");
    QTest::newRow("not a number") << "n.obj" << QByteArray("v nan 0 0\nv 1 0 0\nv 0 0 1\nf 1 2 3\n");
    QTest::newRow("far away") << "f.obj" << QByteArray("v 1e9 0 0\nv 1 0 0\nv 0 0 1\nf 1 2 3\n");
    QTest::newRow("other kind") << "t.txt" << QByteArray("hello");
    QTest::newRow("text as glb") << "t.glb" << QByteArray("hello");
    const std::string glb = demo::depotLevel().bytes();
    QTest::newRow("cut in the header") << "c1.glb" << QByteArray(glb.data(), 10);
    QTest::newRow("cut in the text") << "c2.glb" << QByteArray(glb.data(), 2000);
  }
  void brokenFilesAreProblems() {
    QFETCH(QString, name);
    QFETCH(QByteArray, content);
    const auto level = read(name, content.toStdString());
    QVERIFY(!level);
    QVERIFY(level.problem().where.find(name.toStdString()) != std::string::npos);
    QCOMPARE(exitCode(level.problem().code), 3);
  }
  void missingFileIsAProblem() {
    ThreadedJob job;
    QVERIFY(!level::importLevel("/no/such/file.obj", {}, job));
  }
};

QTEST_APPLESS_MAIN(TestLevel)
#include "level.moc"
