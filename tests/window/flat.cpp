// Flat levels and agents that crouch, by hand: a tile map opened, floors and holes drawn where there is nothing, a box built alone, and
// what a large level is drawn by.

#include <QCheckBox>
#include <QImage>

#include "demo/date_garden.h"
#include "tests/window/demo_window.h"
#include "window/scene/coarse.h"
#include "window/stops/agents/agents_sheet.h"
#include "window/stops/level/level_sheet.h"
#include "window/stops/mesh/mesh_sheet.h"

using namespace dune;
using namespace dune::window;

class TestFlat : public DemoWindow {
  Q_OBJECT

  QString writeGarden() {
    const QString map = folder_.filePath(QString::fromLatin1(demo::kGardenMapFile));
    if (!writeFile(map.toStdString(), demo::gardenMap()) ||
        !writeFile(folder_.filePath(QString::fromLatin1(demo::kGardenTilesFile)).toStdString(), demo::gardenTiles()))
      return {};
    return map;
  }
  void draw(const QString& what, const std::vector<Vec3>& corners) {
    drive_->press(Stop::level, what);
    for (const Vec3& c : corners) drive_->click(c);
    QTest::keyClick(&window_->world(), Qt::Key_Return);
    QTest::qWait(1);
  }
  void startEmpty() {
    work().document().markSaved();
    work().startNew();
    drive_->goTo(Stop::level);
    sheet<LevelSheet>(Stop::level).show(LevelSheet::Page::blockers);
  }
  static double perimeterOf(const Polygon& p) {
    double all = 0;
    for (std::size_t i = 0; i < p.size(); ++i) all += glm::distance(p[i], p[(i + 1) % p.size()]);
    return all;
  }
  /// A convex outline grown by r, corners round; and one of four nearly square corners shrunk by r.
  static double grown(const level::Blocker& b, double r) {
    const Polygon p = level::baseOf(b);
    return std::abs(doubleArea(p)) / 2 + perimeterOf(p) * r + kPi * r * r;
  }
  static double inset(const level::Blocker& b, double r) {
    const Polygon p = level::baseOf(b);
    return std::abs(doubleArea(p)) / 2 - perimeterOf(p) * r + 4 * r * r;
  }
  double area() { return nav::totalArea(work().ground()->mesh); }

 private slots:
  void aTileMapIsSeenFromAboveAndReadInPixels() {
    const QString map = writeGarden();
    work().openLevel(map);
    QVERIFY(becomes([&] { return work().level() && work().level()->flat(); }));
    QVERIFY(drive_->waitForGround());
    QVERIFY(window_->world().camera().plan());
    QVERIFY(ground({5, 0, 20}) == false && ground({10, 0, 22.5}));
    // The readout says pixels: 32 of them are a metre.
    drive_->goTo(Stop::mesh);
    drive_->move({10, 0, 22.5});
    QVERIFY2(window_->readoutText().contains(QRegularExpression(QStringLiteral("pixel 3(19|20|21), 7(19|20|21)"))),
             qPrintable(window_->readoutText()));
    // A set of tiles that changes is a change of the level.
    const auto asRead = work().level();
    std::string tiles = demo::gardenTiles();
    for (std::size_t at; (at = tiles.find("value=\"true\"")) != std::string::npos;) tiles.replace(at, 12, "value=\"false\"");
    QVERIFY(writeFile(folder_.filePath(QString::fromLatin1(demo::kGardenTilesFile)).toStdString(), tiles).ok());
    QVERIFY(becomes([&] { return work().level() && work().level() != asRead; }));
    QVERIFY(writeFile(folder_.filePath(QString::fromLatin1(demo::kGardenTilesFile)).toStdString(), demo::gardenTiles()).ok());
    const auto changed = work().level();
    QVERIFY(becomes([&] { return work().level() != changed; }));
    QVERIFY(drive_->waitForGround());
    // With half as many pixels a metre everything is twice as wide; undo takes that back.
    drive_->goTo(Stop::level);
    auto wide = [&] { return work().level()->level->bounds().size().x; };
    const double before = wide();
    type(field(Stop::level, QStringLiteral("Pixels a metre")), QStringLiteral("16"));
    QVERIFY(becomes([&] { return work().level() && std::abs(wide() - 2 * before) < 1e-6; }));
    undo();
    QVERIFY(becomes([&] { return std::abs(wide() - before) < 1e-6; }));
    // What is solid is what the map calls so; another word leaves all of the ground.
    QVERIFY(drive_->waitForGround());
    const double walled = area();
    auto* solid = window_->findChild<QLineEdit*>(QStringLiteral("solidProperty"));
    QVERIFY(solid && solid->isVisible());
    solid->setFocus();
    solid->selectAll();
    QTest::keyClicks(solid, QStringLiteral("wall"));
    QTest::keyClick(solid, Qt::Key_Return);
    QVERIFY(becomes([&] { return project().level->files[0].import.solid == "wall" && !work().building(); }));
    QVERIFY(drive_->waitForGround());
    QVERIFY(area() > walled + 200);
  }

  void floorsAndHolesAreDrawnWhereThereIsNothing() {
    startEmpty();
    QVERIFY(work().level() == nullptr);
    drive_->lookAt({0, 0, 0}, 26);
    draw(QStringLiteral("Floor"), {{-6, 0, -4}, {-6, 0, 4}, {6, 0, 4}, {6, 0, -4}});
    QCOMPARE(project().level->blockers.size(), std::size_t{1});
    QVERIFY(project().level->blockers[0].role == level::Role::ground);
    QVERIFY(drive_->waitForGround());
    const Vec3 size = work().worldBounds().size();
    QVERIFY(std::abs(size.x - 12) < 0.1 && std::abs(size.z - 8) < 0.1);
    QVERIFY2(std::abs(area() - inset(project().level->blockers[0], 0.4)) < 0.01, qPrintable(QString::number(area())));
    const double whole = area();
    drive_->lookAt({0, 0, 0}, 26);
    draw(QStringLiteral("Hole"), {{-1, 0, -1}, {-1, 0, 1}, {1, 0, 1}, {1, 0, -1}});
    QVERIFY(drive_->waitForGround());
    const level::Blocker hole = project().level->blockers[1];
    const double exact = grown(hole, 0.4);
    QVERIFY2(std::abs(whole - area() - exact) < 0.03, qPrintable(QStringLiteral("%1 against %2").arg(whole - area()).arg(exact)));
    // A corner of the hole is dragged; the others stay.
    work().selection().choose(ThingKind::blocker, 2);
    QTest::qWait(1);
    drive_->lookAt({0, 0, 0}, 16);
    const Polygon base = level::baseOf(hole);
    const auto corner = std::ranges::max_element(base, {}, [](const Vec2& p) { return p.x - p.y; });
    drive_->drag(lift(*corner, 0), {3, 0, 2.5});
    const level::Blocker moved = project().level->blockers[1];
    QVERIFY2(std::abs(moved.size.x - 4) < 0.15 && std::abs(moved.size.z - 3.5) < 0.15,
             qPrintable(QStringLiteral("%1 %2").arg(moved.size.x).arg(moved.size.z)));
    QVERIFY(drive_->waitForGround());
    QVERIFY(area() < whole - exact - 1);
    undo();
    QVERIFY(project().level->blockers[1] == hole);
    undo(), undo();
    QVERIFY(becomes([&] { return !work().level() && !work().ground(); }));
  }

  void escGivesUpAnOutlineAndThenTheTool() {
    startEmpty();
    drive_->lookAt({0, 0, 0}, 26);
    drive_->press(Stop::level, QStringLiteral("Floor"));
    drive_->click({-3, 0, 0});
    drive_->click({3, 0, 0});
    QTest::keyClick(&window_->world(), Qt::Key_Return);  // two corners are no outline
    QVERIFY(project().level->blockers.empty());
    QTest::keyClick(&window_->world(), Qt::Key_Escape);
    QVERIFY(drive_->button(Stop::level, QStringLiteral("Floor"))->isChecked());
    QTest::keyClick(&window_->world(), Qt::Key_Escape);
    QVERIFY(!drive_->button(Stop::level, QStringLiteral("Floor"))->isChecked());
  }

  void crouchingMakesLowPlacesGroundOfTheirOwn() {
    drive_->goTo(Stop::agents);
    // Under the bench of the culvert nobody walks upright: a plate at 1.2 m is put over open sand.
    work().change("Plate", [](project::Project& p) {
      project::edit(p.level, [](project::LevelSection& s) {
        s.blockers.push_back({9, level::BlockerShape::box, {20, 1.2, 18}, {2, 0.2, 2}, 0, level::Role::obstacle, {}, {}});
      });
    });
    QVERIFY(drive_->waitForGround());
    QVERIFY(!ground({20, 0, 18}));
    type(field(Stop::agents, QStringLiteral("Crouching")), QStringLiteral("1"));
    QCOMPARE(project().agents->agents[0].crouchHeight, 1.0);
    QVERIFY(drive_->waitForGround());
    QVERIFY(ground({20, 0, 18}));
    QVERIFY(work().ground()->mesh.kindOf(work().ground()->locator().under({20, 0, 18}, 0.2).face).name == "crouching");
    drive_->goTo(Stop::mesh);
    window_->cutAway().slider()->setValue(20);  // one metre: the plate is above it
    drive_->lookAt({20, 0, 18}, 12);
    drive_->move({20, 0, 18});
    QVERIFY2(window_->readoutText().contains(QStringLiteral("Walkable crouching: headroom 1.20 m")), qPrintable(window_->readoutText()));
    // Lower than a step makes no sense, and is said, not taken.
    drive_->goTo(Stop::agents);
    type(field(Stop::agents, QStringLiteral("Crouching")), QStringLiteral("0.1"));
    QVERIFY(project().agents->agents[0].crouchHeight != 0.1);
  }

  void onlyTheBoxIsBuilt() {
    drive_->goTo(Stop::mesh);
    auto& mesh = sheet<MeshSheet>(Stop::mesh);
    mesh.show(MeshSheet::Page::build);
    mesh.build()->scope()->setFocus();
    QTest::keyClick(mesh.build()->scope(), Qt::Key_Down);
    QVERIFY(work().grounds().scope().kind == generate::Scope::Kind::box);
    drive_->lookAt({20, 0, 18}, 26);
    drive_->drag({17, 0, 16}, {22, 0, 20});
    QVERIFY(!work().grounds().scope().box.empty());
    // A change far outside the box leaves the ground there as it was.
    work().change("Far", [](project::Project& p) {
      project::edit(p.level, [](project::LevelSection& s) {
        s.blockers.push_back({9, level::BlockerShape::box, {56, 0, 40}, {2, 2, 2}, 0, level::Role::obstacle, {}, {}});
      });
    });
    QVERIFY(drive_->waitForGround());
    QVERIFY(work().ground()->built->chunksLeft > 0);
    QVERIFY(ground({56, 0, 40}));
    work().change("Near", [](project::Project& p) {
      project::edit(p.level, [](project::LevelSection& s) {
        s.blockers.push_back({10, level::BlockerShape::box, {20, 0, 18}, {1, 2, 1}, 0, level::Role::obstacle, {}, {}});
      });
    });
    QVERIFY(drive_->waitForGround());
    QVERIFY(!ground({20, 0, 18}) && ground({56, 0, 40}));
    QTest::keyClick(mesh.build()->scope(), Qt::Key_Up);
    QVERIFY(becomes([&] { return work().ground()->built->chunksLeft == 0; }));
    QVERIFY(!ground({56, 0, 40}));
  }

  void aChangeTakenBackWhileItIsBuiltLeavesFreshGround() {
    drive_->goTo(Stop::level);
    sheet<LevelSheet>(Stop::level).show(LevelSheet::Page::bounds);
    for (int i = 0; i < 5; ++i) {
      drive_->press(Stop::level, QStringLiteral("Set bounds"));
      work().document().undo();
      QVERIFY(becomes([&] { return !work().building(); }));
      QVERIFY(drive_->waitForGround());
    }
  }

  void theOtherKindsGroundIsDrawnWhereTwoAreCompared() {
    drive_->goTo(Stop::agents);
    QVERIFY(becomes([&] { return groundOf(1) != nullptr && !work().building(); }));
    auto& agents = sheet<AgentsSheet>(Stop::agents);
    agents.pages()->setCurrentIndex(2);
    window_->world().setRefined(true);
    drive_->lookAt({30, 0, 22}, 40);
    QTest::qWait(250);
    // Hatching says where they differ; the other's border is in its own colour.
    auto border = [&] {
      const QImage picture = window_->world().picture().convertToFormat(QImage::Format_RGB32);
      const QColor wanted = theme().agent[1];
      int count = 0;
      for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x) {
          const QColor c = picture.pixelColor(x, y);
          count += std::abs(c.red() - wanted.red()) + std::abs(c.green() - wanted.green()) + std::abs(c.blue() - wanted.blue()) < 30;
        }
      return count;
    };
    const int before = border();
    QTest::keyClick(agents.against(), Qt::Key_Down);
    QVERIFY(becomes([&] { return work().comparison().change() != nullptr; }));
    QTest::qWait(250);
    QVERIFY2(border() > before + 300, qPrintable(QStringLiteral("%1 against %2").arg(border()).arg(before)));
  }

  void aLargeLevelIsDrawnByAStandIn() {
    QImage image(420, 420, QImage::Format_Grayscale16);
    for (int z = 0; z < image.height(); ++z)
      for (int x = 0; x < image.width(); ++x)
        reinterpret_cast<quint16*>(image.scanLine(z))[x] =
            static_cast<quint16>(30000 + 9000 * std::sin(x / 17.0) * std::cos(z / 23.0) + 500 * std::sin(x / 2.3 + z / 3.1));
    const QString path = folder_.filePath(QStringLiteral("wide.png"));
    QVERIFY(image.save(path));
    work().setAutoBuild(false);
    work().openLevel(path);
    QVERIFY(becomes([&] { return work().level() && work().level()->level->triangleCount() > 300'000; }));
    const auto &whole = work().level()->level, drawn = work().source().picture()->level;
    QVERIFY(drawn != whole && drawn->triangleCount() <= kMostDrawn && drawn->triangleCount() > kMostDrawn / 8);
    QCOMPARE(drawn->objects.size(), whole->objects.size());
    // It covers the same ground, and nothing of it lies farther from the true surface than its cells are wide.
    QVERIFY(std::abs(drawn->bounds().size().x - whole->bounds().size().x) < 6);
    QVERIFY(work().source().bytes() > 300'000 * 12);
    drive_->goTo(Stop::level);
    bool told = false;
    for (QLabel* label : window_->sheet(static_cast<int>(Stop::level))->findChildren<QLabel*>())
      told |= label->isVisible() && label->text().contains(QStringLiteral("drawn coarsely"));
    QVERIFY(told);
    // Picking asks the true triangles.
    drive_->lookAt({200, 9, 200}, 60);
    const auto hit = window_->world().pointerAt(drive_->pixelOf({200, 9, 200})).hit;
    QVERIFY(hit.has_value());
    const double x = std::round(hit->at.x), z = std::round(hit->at.z);
    const double truth = 20 * (30000 + 9000 * std::sin(x / 17.0) * std::cos(z / 23.0) + 500 * std::sin(x / 2.3 + z / 3.1)) / 65535;
    QVERIFY2(std::abs(hit->at.y - truth) < 0.5, qPrintable(QStringLiteral("%1 %2").arg(hit->at.y).arg(truth)));
    // Its ground is large too: far away a stand-in is drawn for it, near by its own faces with their edges.
    work().build();
    QVERIFY(drive_->waitForGround());
    const nav::NavMesh& ground = work().ground()->mesh;
    QVERIFY2(work().grounds().standIn(work().agentKind().id) && ground.faceCount() > 10'000,
             qPrintable(QString::number(ground.faceCount())));
    QVERIFY(work().grounds().standIn(work().agentKind().id)->triangleCount() <= kMostDrawn / 4);
    window_->world().setRefined(true);
    auto orange = [&] {
      QTest::qWait(300);  // until the view rests
      const QImage picture = window_->world().picture().convertToFormat(QImage::Format_RGB32);
      int count = 0;
      for (int row = 0; row < picture.height(); row += 4)
        for (int column = 0; column < picture.width(); column += 4) {
          const QColor c = picture.pixelColor(column, row);
          count += c.red() - c.blue() > 60;
        }
      return 16.0 * count / (picture.width() * picture.height());
    };
    drive_->goTo(Stop::mesh);
    QVERIFY(becomes([&] { return work().comparison().change() != nullptr; }));  // all of it is gained, and hatched
    for (QCheckBox* box : window_->sheet(static_cast<int>(Stop::mesh))->findChildren<QCheckBox*>())
      if (box->isVisible() && box->text() == QStringLiteral("Show it in the world"))
        QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
    for (const double distance : {260.0, 40.0}) {
      drive_->lookAt({210, 9, 210}, distance);
      const double part = orange();
      QVERIFY2(part > 0.6, qPrintable(QStringLiteral("%1 at %2 m").arg(part).arg(distance)));
    }
    drive_->goTo(Stop::level);
    drive_->move({210, 9, 210});
    QVERIFY(orange() < 0.1);
  }
};

QTEST_MAIN(TestFlat)
#include "flat.moc"
