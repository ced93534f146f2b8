// Fine detail costs no ground and makes none: what it stands on is as if it were coarse. That it costs no time is measured, not tested.

#include "tests/core/detail.h"

#include <QtTest>

using namespace dune;
using test::built;

class TestDetail : public QObject {
  Q_OBJECT

 private slots:
  void aBallTakesACircle_data() {
    QTest::addColumn<int>("parts");
    for (const int parts : {24, 60, 120}) QTest::addRow("%d", parts) << parts;
  }
  void aBallTakesACircle() {
    QFETCH(int, parts);
    auto level = std::make_shared<level::Level>(*test::Scene().floor(0, 0, 20, 20).world().level);
    const auto n = static_cast<std::uint32_t>(parts);
    level->objects.push_back(test::ball("ball", {10, 1, 10}, 1.2, n, n));
    const nav::Agent agent;
    const auto b = built(level::plainWorld(level), agent);
    QVERIFY(nav::checkStructure(b->mesh).empty());
    QCOMPARE(nav::countIslands(b->mesh), std::size_t{2});  // the floor, and the top of the ball
    double floor = 0;
    for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f)
      if (b->mesh.cornerAt(nav::FaceId{f}, 0).y < 0.5) floor += nav::faceArea(b->mesh, nav::FaceId{f});
    // It is widest at the height of a knee; that of a ball of flat pieces is a little less.
    const double inner = 20 - 2 * agent.radius, ring = 1.2 + agent.radius, rough = 1.2 * std::cos(kPi / parts) + agent.radius;
    QVERIFY2(floor < inner * inner - kPi * rough * rough + 0.01, qPrintable(QString::number(floor)));
    QVERIFY2(floor > inner * inner - kPi * ring * ring - 0.25, qPrintable(QString::number(floor)));  // rounded outwards to few corners
  }
  void finerThingsTakeTheSameGround() {
    // Crumbs of ground in the folds of fine detail were islands once.
    double before = 0;
    for (const std::size_t triangles : {20000U, 60000U}) {
      const auto b = built(test::roundThings(triangles));
      QVERIFY(nav::checkStructure(b->mesh).empty());
      const double area = nav::totalArea(b->mesh);
      if (before > 0) QVERIFY2(std::abs(area - before) < 0.01 * before, qPrintable(QString::number(area)));
      before = area;
      std::vector<double> islands(nav::countIslands(b->mesh));
      for (std::uint32_t f = 0; f < b->mesh.faceCount(); ++f) islands[b->mesh.island[f]] += nav::faceArea(b->mesh, nav::FaceId{f});
      QVERIFY(std::ranges::min(islands) > 1e-4);
      QVERIFY2(islands.size() <= 21, qPrintable(QString::number(islands.size())));
    }
  }
  void aTowerIsOneGroundFromDoorToRoof() {
    const auto b = built(test::tower(10));
    QVERIFY(nav::checkStructure(b->mesh).empty());
    QCOMPARE(nav::countIslands(b->mesh), std::size_t{1});
    const double one = nav::totalArea(built(test::tower(1))->mesh), two = nav::totalArea(built(test::tower(2))->mesh);
    const double all = nav::totalArea(b->mesh);
    QVERIFY2(std::abs(all - (one + 9 * (two - one))) < 0.5, qPrintable(QString::number(all)));
  }
  void aRailingIsAWallAtEveryTurn() {
    double before = 0;
    for (int i = 0; i < 6; ++i) {
      const auto b = built(test::railing(6, 24, 2 * kPi * i / 6 + 0.1));
      QVERIFY(nav::checkStructure(b->mesh).empty());
      QCOMPARE(nav::countIslands(b->mesh), std::size_t{1});
      const double area = nav::totalArea(b->mesh);
      if (before > 0) QVERIFY2(std::abs(area - before) < 0.1, qPrintable(QString::number(area)));
      before = area;
      // Around a line of 4 m: nobody comes nearer to it than the radius.
      const double inner = (10 - 0.8) * (8 - 0.8), taken = 4 * 2 * 0.41 + kPi * 0.41 * 0.41;
      QVERIFY2(std::abs(inner - taken - area) < 0.15, qPrintable(QString::number(area)));
    }
  }
};

QTEST_APPLESS_MAIN(TestDetail)
#include "detail.moc"
