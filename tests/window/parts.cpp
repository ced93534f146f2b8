// Parts of the window by themselves: camera, picking, models, the empty window, every stop without a level.

#include <QAbstractItemModelTester>

#include "demo/glb_writer.h"
#include "tests/core/scenes.h"
#include "tests/window/driver.h"
#include "window/scene/layers.h"
#include "window/scene/theme.h"
#include "window/stops/level/level_sheet.h"
#include "window/widgets/item_list.h"

using namespace dune;
using namespace dune::window;

class TestParts : public QObject {
  Q_OBJECT

 private slots:
  void initTestCase() {
    QApplication::setOrganizationName(QStringLiteral("dune-step-tests"));
    QSettings().clear();
    applyTheme(true);
  }
  void rayThroughAProjectedPointMeetsIt() {
    Camera camera;
    camera.setViewport(QSizeF(900, 600));
    for (const bool plan : {false, true}) {
      camera.setPlan(plan);
      for (std::uint64_t seed = 0; seed < 50; ++seed) {
        test::Random random(seed);
        camera.orbit(random.in(-300, 300), random.in(-100, 100));
        const Vec3 p{random.in(-8, 8), random.in(-3, 3), random.in(-8, 8)};
        QPointF pixel;
        QVERIFY(camera.project(p, pixel));
        const Ray ray = camera.rayAt(pixel);
        const double off = glm::length(glm::cross(p - ray.origin, ray.direction));
        QVERIFY2(off < 0.01, qPrintable(QString::number(off)));
      }
    }
  }
  void framedBoxIsAllInView() {
    Camera camera;
    camera.setViewport(QSizeF(900, 600));
    const Box3 box{{-30, -2, 5}, {40, 9, 31}};
    camera.frame(box);
    for (int k = 0; k < 8; ++k) {
      QPointF at;
      QVERIFY(camera.project({k & 1 ? box.max.x : box.min.x, k & 2 ? box.max.y : box.min.y, k & 4 ? box.max.z : box.min.z}, at));
      QVERIFY(QRectF(0, 0, 900, 600).contains(at));
    }
  }
  void zoomingKeepsThePlaceUnderTheMouse() {
    Camera camera;
    camera.setViewport(QSizeF(900, 600));
    QPointF before, after;
    const Vec3 p{5, 0, -3};
    QVERIFY(camera.project(p, before));
    camera.zoom(0.5, p);
    QVERIFY(camera.project(p, after));
    QVERIFY(QLineF(before, after).length() < 1.0);
  }
  void pickingFindsTheNearestBelowTheCut() {
    const level::World world = test::Scene().floor(0, 0, 10, 10).box({4, 0, 4}, {6, 3, 6}, "block").world();
    const Ray down{{5, 20, 5}, {0, -1, 0}};
    QCOMPARE(pick(*world.level, down, 1e9)->at.y, 3.0);
    QVERIFY(pick(*world.level, down, 2)->at.y < 0.001);
    QVERIFY(!pick(*world.level, {{50, 20, 5}, {0, -1, 0}}, 1e9));
  }
  void theTreePicksWhatLookingAtEveryTrianglePicks() {
    for (std::uint64_t seed = 0; seed < 12; ++seed) {
      test::Random random(seed);
      test::Scene scene;
      scene.floor(-20, -20, 20, 20);
      for (int i = 0; i < 60; ++i) {
        const Vec3 a{random.in(-20, 20), random.in(0, 5), random.in(-20, 20)};
        scene.box(a, a + Vec3{random.in(0.1, 6), random.in(0.1, 3), random.in(0.1, 6)}, "box " + std::to_string(i));
      }
      const auto level = scene.turned(random.in(0, 3)).world().level;
      const PickTree tree(level, Job());
      int hits = 0;
      for (int i = 0; i < 400; ++i) {
        const Ray ray{{random.in(-30, 30), random.in(1, 30), random.in(-30, 30)},
                      glm::normalize(Vec3{random.in(-1, 1), random.in(-1, 0.2), random.in(-1, 1)})};
        const double cut = i % 3 == 0 ? random.in(0, 6) : 1e9;
        const auto slow = pick(*level, ray, cut), fast = tree.pick(ray, cut);
        QCOMPARE(fast.has_value(), slow.has_value());
        hits += slow.has_value();
        if (slow) QCOMPARE(fast->object, slow->object);
        if (slow) QCOMPARE(fast->at, slow->at);
      }
      QVERIFY(hits > 30);
    }
    QVERIFY(!PickTree(std::make_shared<level::Level>(), Job()).pick({{0, 5, 0}, {0, -1, 0}}, 1e9));
  }
  void theTreeFindsWhatLiesInABoxOfThePlan() {
    for (std::uint64_t seed = 0; seed < 12; ++seed) {
      test::Random random(seed);
      test::Scene scene;
      for (int i = 0; i < 60; ++i) {
        const Vec3 a{random.in(-20, 20), random.in(0, 5), random.in(-20, 20)};
        scene.box(a, a + Vec3{random.in(0.1, 6), random.in(0.1, 3), random.in(0.1, 6)}, "box " + std::to_string(i));
      }
      const auto level = scene.turned(random.in(0, 3)).world().level;
      const PickTree tree(level, Job());
      Box2 box;
      box.add({random.in(-20, 0), random.in(-20, 0)}), box.add({random.in(0, 20), random.in(0, 20)});
      const auto found = tree.within(box, 1000000);
      QVERIFY(found.has_value());
      std::set<std::pair<std::uint32_t, std::uint32_t>> numbers;
      for (const PickTree::Item& item : *found) QVERIFY(numbers.insert({item.object, item.triangle}).second);
      // Every triangle whose box meets it is there.
      for (std::uint32_t o = 0; o < level->objects.size(); ++o)
        for (std::uint32_t t = 0; t < level->objects[o].triangles.size(); ++t) {
          Box2 own;
          for (const std::uint32_t v : level->objects[o].triangles[t]) own.add(plan(level->objects[o].vertices[v]));
          if (own.overlaps(box)) QVERIFY(numbers.contains({o, t}));
        }
      QVERIFY(!tree.within(box, found->size() - 1).has_value());
    }
  }
  void modelsKeepTheRulesOfModels() {
    ItemModel items;
    QAbstractItemModelTester testItems(&items, QAbstractItemModelTester::FailureReportingMode::QtTest);
    // Whatever rows follow each other, they are there, and of rows that stay the same nothing is told.
    test::Random random(7);
    for (int round = 0; round < 200; ++round) {
      std::vector<ItemRow> rows;
      for (int i = 0; i < 12; ++i)
        if (random.in(0, 1) < 0.6) rows.push_back({std::to_string(i), QString::number(static_cast<int>(random.in(0, 3)))});
      QSignalSpy told(&items, &QAbstractItemModel::dataChanged), gone(&items, &QAbstractItemModel::rowsRemoved);
      items.setRows(rows);
      QCOMPARE(items.rowCount(), static_cast<int>(rows.size()));
      for (std::size_t i = 0; i < rows.size(); ++i) {
        QCOMPARE(items.rows()[i].key, rows[i].key);
        QCOMPARE(items.index(static_cast<int>(i)).data().toString(), rows[i].text);
        QCOMPARE(items.rowOf(rows[i].key), static_cast<int>(i));
      }
      told.clear(), gone.clear();
      items.setRows(rows);
      QVERIFY(told.isEmpty() && gone.isEmpty());
    }
    Workspace workspace;
    ObjectModel objects(workspace);
    QAbstractItemModelTester testObjects(&objects, QAbstractItemModelTester::FailureReportingMode::QtTest);
    objects.levelChanged();
    QCOMPARE(objects.rowCount(), 0);
  }
  void everyStopStandsWithoutALevel() {
    MainWindow window;
    window.resize(1024, 700);
    window.show();
    QVERIFY(QTest::qWaitForWindowExposed(&window));
    Driver drive(window);
    for (int i = 0; i < window.stopCount(); ++i) {
      QTest::keyClick(&window, static_cast<Qt::Key>(Qt::Key_1 + i), Qt::ControlModifier);
      QCOMPARE(static_cast<int>(window.stop()), i);
      QTest::mouseClick(&window.world(), Qt::LeftButton, {}, QPoint(200, 200));
      QTest::keyClick(&window.world(), Qt::Key_Escape);
      for (QPushButton* b : window.sheet(i)->findChildren<QPushButton*>()) QVERIFY2(!b->accessibleName().isEmpty(), qPrintable(b->text()));
    }
    QTest::keyClick(&window, Qt::Key_F4);
    QTest::keyClick(&window, Qt::Key_B, Qt::ControlModifier);
    QTest::keyClick(&window, Qt::Key_R, Qt::ControlModifier);
    QVERIFY(!window.workspace().building() && !window.workspace().crowd().running());
  }
  void aLevelThatCannotBeReadIsSaid() {
    MainWindow window;
    window.show();
    const QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("broken.glb"));
    QVERIFY(writeFile(path.toStdString(), "no level").ok());
    window.workspace().openLevel(path);
    QVERIFY(Driver::shown([&] { return window.workspace().source().problem().has_value(); }));
    QVERIFY(window.readoutText().contains(QStringLiteral("broken.glb")));
    QVERIFY(window.world().invitation().contains(QStringLiteral("cannot be read")));
    const auto* why = window.sheet(static_cast<int>(Stop::level))->findChild<QLabel*>(QStringLiteral("trouble"));
    QVERIFY(why && why->text().contains(QStringLiteral("broken.glb")));
    QCOMPARE(why->palette().color(QPalette::WindowText), theme().bad);
    // Put right in the other program, it is read by itself, and nothing is said of it any more.
    demo::GlbWriter writer;
    writer.box("floor", {0, -1, 0}, {10, 0, 10});
    QVERIFY(writeFile(path.toStdString(), writer.bytes()).ok());
    QVERIFY(Driver::shown([&] { return window.workspace().level() && window.workspace().groundFresh(); }));
    QVERIFY2(window.readoutText() == QStringLiteral("The level can be read again."), qPrintable(window.readoutText()));
    QVERIFY(window.world().invitation().isEmpty() && why->palette().color(QPalette::WindowText) != theme().bad);
    QVERIFY(writeFile(path.toStdString(), "no level").ok());
    QVERIFY(Driver::shown([&] { return window.workspace().source().problem().has_value(); }));
    window.workspace().document().undo();
    QVERIFY(Driver::shown([&] { return !window.workspace().source().problem().has_value(); }));
    QVERIFY(window.readoutText().isEmpty());
    window.workspace().document().markSaved();
  }
  void worldHasItsShareOfTheWindow() {
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    QVERIFY(QTest::qWaitForWindowExposed(&window));
    QVERIFY(window.world().width() >= 0.6 * 1280);
    QVERIFY(window.world().height() >= 0.65 * 800);
  }
};

QTEST_MAIN(TestParts)
#include "parts.moc"
