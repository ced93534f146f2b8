// Units and axes of level files: levels that are right are left alone, wrong ones are guessed, and reading them so makes them right.

#include <QtTest>

#include "core/level/units.h"
#include "demo/depot.h"
#include "tests/core/scenes.h"

using namespace dune;
using namespace dune::level;

class TestUnits : public QObject {
  Q_OBJECT

  /// A yard with walls and crates, more of them the larger it is.
  static Level yard(test::Random& random, double side) {
    test::Scene scene;
    scene.floor(0, 0, side, side);
    scene.box({0, 0, 0}, {side, 2.5, 0.3}, "wall").box({0, 0, side - 0.3}, {side, 2.5, side}, "wall");
    for (int i = 0; i < 12; ++i) {
      const double x = random.in(1, side - 3), z = random.in(1, side - 3), wide = random.in(0.4, 1.5);
      scene.box({x, 0, z}, {x + wide, random.in(0.3, 4), z + wide}, "crate");
    }
    return *scene.world().level;
  }
  /// As a program with other units and another axis up would have written it, and as the importer reads that with nothing said.
  static Level written(const Level& level, double unitsAMetre, UpAxis up) {
    Level other = level;
    for (Object& o : other.objects)
      for (Vec3& v : o.vertices.edit()) {
        v *= unitsAMetre;
        if (up == UpAxis::z) v = {v.x, -v.z, v.y};
      }
    return other;
  }
  static void read(Level& level, const ImportOptions& options) {
    for (Object& o : level.objects)
      for (Vec3& v : o.vertices.edit()) {
        v *= options.scale;
        if (options.up == UpAxis::z) v = {v.x, v.z, -v.y};
      }
  }

 private slots:
  void metresWithYUpAreLeftAlone() {
    for (int i = 0; i < 40; ++i) {
      test::Random random(static_cast<std::uint64_t>(i));
      const auto guess = guessUnits(yard(random, random.in(8, 300)), "a.obj", {});
      QVERIFY2(!guess, guess ? guess->reason.c_str() : "");
    }
  }
  void otherUnitsAndAxesAreGuessed_data() {
    QTest::addColumn<double>("unitsAMetre");
    QTest::addColumn<bool>("zUp");
    QTest::newRow("centimetres") << 100.0 << false;
    QTest::newRow("millimetres") << 1000.0 << false;
    QTest::newRow("kilometres") << 0.001 << false;
    QTest::newRow("metres, Z up") << 1.0 << true;
    QTest::newRow("centimetres, Z up") << 100.0 << true;
  }
  void otherUnitsAndAxesAreGuessed() {
    QFETCH(double, unitsAMetre);
    QFETCH(bool, zUp);
    for (int i = 0; i < 40; ++i) {
      test::Random random(static_cast<std::uint64_t>(i));
      const Level right = yard(random, random.in(8, 60));
      Level wrong = written(right, unitsAMetre, zUp ? UpAxis::z : UpAxis::y);
      const auto guess = guessUnits(wrong, "a.stl", {});
      QVERIFY2(guess, qPrintable(QString::number(i)));
      QVERIFY2(std::abs(guess->read.scale * unitsAMetre - 1) < 1e-9, guess->reason.c_str());
      QCOMPARE(guess->read.up, zUp ? UpAxis::z : UpAxis::y);
      read(wrong, guess->read);
      QVERIFY(!guessUnits(wrong, "a.stl", guess->read));
      for (std::size_t o = 0; o < right.objects.size(); ++o)
        for (std::size_t v = 0; v < right.objects[o].vertices.size(); ++v)
          QVERIFY(glm::distance(right.objects[o].vertices[v], wrong.objects[o].vertices[v]) < 1e-6);
    }
  }
  void aFileThatWasTurnedTooMuchIsTurnedBack() {
    test::Random random(3);
    Level level = yard(random, 20);
    ImportOptions turned;
    turned.up = UpAxis::z;
    read(level, turned);
    const auto guess = guessUnits(level, "a.obj", turned);
    QVERIFY(guess && guess->read.up == UpAxis::y && guess->read.scale == 1);
  }
  void mapsHaveNeitherUnitsNorAxes() {
    const Level large = *test::Scene().floor(0, 0, 90000, 90000).world().level;
    for (const char* name : {"dunes.png", "garden.tmx", "garden.json"}) QVERIFY(!guessUnits(large, name, {}));
    QVERIFY(guessUnits(large, "large.obj", {}));
  }
  void levelsWithoutSizeAreLeftAlone() {
    QVERIFY(!guessUnits(Level{}, "a.obj", {}));
    Level point;
    point.objects.push_back({"point", {{0, 0, 0}, {0, 0, 0}, {0, 0, 0}}, {{0, 1, 2}}});
    QVERIFY(!guessUnits(point, "a.obj", {}));
  }
};

QTEST_APPLESS_MAIN(TestUnits)
#include "units.moc"
