// Level files: names, transforms, axes, scale; broken ones are Problems that name the file.

#include <QTemporaryDir>
#include <QtTest>

#include "core/base/file.h"
#include "core/level/import.h"
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
    Job job;
    return level::importLevel(path, options, job);
  }
  static std::string square() { return "o floor\nv 0 0 0\nv 0 0 4\nv 4 0 4\nv 4 0 0\nf 1 2 3 4\n"; }

 private slots:
  void objObjectsKeepTheirNames() {
    const auto level = read("a.obj", square() + "o wall\nv 1 0 1\nv 2 0 1\nv 2 3 1\nf 5 6 7\n");
    QVERIFY(level.ok());
    QCOMPARE((*level)->objects.size(), std::size_t{2});
    QCOMPARE((*level)->objects[0].name, std::string("floor"));
    QCOMPARE((*level)->objects[0].triangles.size(), std::size_t{2});
  }
  void scaleComesBeforeTheTurn() {
    const auto level = read("b.obj", "v 1 2 3\nv 2 2 3\nv 1 4 3\nf 1 2 3\n", {level::UpAxis::z, 0.5});
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
    Job job;
    QVERIFY(!level::importLevel("/no/such/file.obj", {}, job));
  }
};

QTEST_APPLESS_MAIN(TestLevel)
#include "level.moc"
