// Every control of the Areas, Links, Crowd and Review stops, by hand; each change is one step that is undone.

#include <qcustomplot.h>
#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QToolButton>

#include "tests/window/demo_window.h"
#include "window/stops/areas/areas_sheet.h"
#include "window/stops/crowd/crowd_sheet.h"
#include "window/stops/level/level_sheet.h"
#include "window/stops/links/links_sheet.h"
#include "window/timeline/lanes.h"
#include "window/timeline/reel.h"

using namespace dune;
using namespace dune::window;

class TestSheets : public DemoWindow {
  Q_OBJECT

  ItemList* list(Stop stop, const QString& name) {
    for (ItemList* l : window_->sheet(static_cast<int>(stop))->findChildren<ItemList*>())
      if (l->accessibleName() == name) return l;
    return nullptr;
  }
  /// Clicks the row of a list.
  void choose(ItemList* l, int row) {
    QVERIFY(l && row < l->count());
    const QModelIndex index = l->model()->index(row, 0);
    l->scrollTo(index);
    QTest::mouseClick(l->viewport(), Qt::LeftButton, {}, l->visualRect(index).center());
    QTest::qWait(1);
  }
  void toggle(Stop stop, const QString& text) {
    for (QCheckBox* box : window_->sheet(static_cast<int>(stop))->findChildren<QCheckBox*>()) {
      if (!box->text().startsWith(text)) continue;
      QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
      return QTest::qWait(1);
    }
    QFAIL(qPrintable(text));
  }
  const level::AreaKind& kind(std::size_t at) { return project().areas->kinds.at(at); }
  /// Whether the document is again what it was, by undoing one step.
  bool oneStepBack(const std::string& before) {
    undo();
    return project::toJson(project()) == before;
  }

 private slots:
  void kindsOfGroundAreMadeNamedAndPriced() {
    drive_->goTo(Stop::areas);
    ItemList* kinds = list(Stop::areas, QStringLiteral("Kinds of ground"));
    const std::size_t before = project().areas->kinds.size();
    drive_->press(Stop::areas, QStringLiteral("Add kind"));
    QCOMPARE(project().areas->kinds.size(), before + 1);
    QCOMPARE(kinds->currentRow(), static_cast<int>(before));
    auto* name = window_->sheet(static_cast<int>(Stop::areas))->findChild<QLineEdit*>(QStringLiteral("kindName"));
    QVERIFY(name->hasFocus());
    QTest::keyClicks(name, QStringLiteral("gravel"));
    QTest::keyClick(name, Qt::Key_Return);
    QCOMPARE(kind(before).name, std::string("gravel"));
    type(field(Stop::areas, QStringLiteral("Cost per metre")), QStringLiteral("3.5"));
    QCOMPARE(kind(before).cost, 3.5);
    type(field(Stop::areas, QStringLiteral("Cost to enter")), QStringLiteral("12"));
    QCOMPARE(kind(before).entryCost, 12.0);
    QVERIFY2(kinds->textAt(static_cast<int>(before)).contains(QStringLiteral("3.5 a metre, 12 to enter")),
             qPrintable(kinds->textAt(static_cast<int>(before))));
    toggle(Stop::areas, QStringLiteral("Forbidden"));
    QVERIFY(kind(before).forbidden);
    QVERIFY(kinds->textAt(static_cast<int>(before)).contains(QStringLiteral("forbidden")));
    answerNext<QColorDialog>([](QColorDialog& d) {
      d.setCurrentColor(QColor(QStringLiteral("#123456")));
      QTest::keyClick(&d, Qt::Key_Return);
    });
    drive_->press(Stop::areas, QStringLiteral("Colour"));
    QCOMPARE(kind(before).colour, std::string("#123456"));
    for (int i = 0; i < 6; ++i) undo();
    QCOMPARE(project().areas->kinds.size(), before);
    QVERIFY(!work().document().canUndo());
  }
  void aNameThatIsTakenIsNotTaken() {
    drive_->goTo(Stop::areas);
    choose(list(Stop::areas, QStringLiteral("Kinds of ground")), 1);
    const std::string before = project::toJson(project()), own = kind(1).name;
    auto* name = window_->sheet(static_cast<int>(Stop::areas))->findChild<QLineEdit*>(QStringLiteral("kindName"));
    for (const std::string& text : {kind(2).name, std::string("   ")}) {
      name->setFocus(), name->selectAll();
      QTest::keyClicks(name, QString::fromStdString(text));
      QTest::keyClick(name, Qt::Key_Return);
      QCOMPARE(project::toJson(project()), before);
    }
    window_->world().setFocus();
    choose(list(Stop::areas, QStringLiteral("Kinds of ground")), 2);
    choose(list(Stop::areas, QStringLiteral("Kinds of ground")), 1);
    QCOMPARE(name->text().toStdString(), own);
  }
  void aRenamedKindKeepsItsGround() {
    drive_->goTo(Stop::areas);
    const auto volume = std::ranges::find(project().areas->volumes, kind(1).name, &level::AreaVolume::kind);
    QVERIFY(volume != project().areas->volumes.end());
    const int id = volume->id;
    choose(list(Stop::areas, QStringLiteral("Kinds of ground")), 1);
    auto* name = window_->sheet(static_cast<int>(Stop::areas))->findChild<QLineEdit*>(QStringLiteral("kindName"));
    name->setFocus(), name->selectAll();
    QTest::keyClicks(name, QStringLiteral("renamed"));
    QTest::keyClick(name, Qt::Key_Return);
    QCOMPARE(std::ranges::find(project().areas->volumes, id, &level::AreaVolume::id)->kind, std::string("renamed"));
    QVERIFY(drive_->waitForGround());
    QVERIFY(std::ranges::count(work().ground()->mesh.kinds, std::string("renamed"), &nav::Kind::name) == 1);
  }
  void aRemovedKindTakesItsVolumesWithIt() {
    drive_->goTo(Stop::areas);
    const std::string before = project::toJson(project()), gone = kind(3).name;
    choose(list(Stop::areas, QStringLiteral("Kinds of ground")), 0);
    QVERIFY(!drive_->button(Stop::areas, QStringLiteral("Remove kind"))->isEnabled());  // what all ground is cannot go
    choose(list(Stop::areas, QStringLiteral("Kinds of ground")), 3);
    drive_->press(Stop::areas, QStringLiteral("Remove kind"));
    QCOMPARE(std::ranges::count(project().areas->kinds, gone, &level::AreaKind::name), 0);
    QCOMPARE(std::ranges::count(project().areas->volumes, gone, &level::AreaVolume::kind), 0);
    QVERIFY(drive_->waitForGround());
    QVERIFY(oneStepBack(before));
  }
  void volumesAreRemovedOneByOne() {
    drive_->goTo(Stop::areas);
    ItemList* volumes = list(Stop::areas, QStringLiteral("Volumes"));
    QVERIFY(!drive_->button(Stop::areas, QStringLiteral("Remove volume"))->isVisible());
    choose(volumes, 1);
    const int id = work().selection().id(ThingKind::volume);
    const std::string before = project::toJson(project());
    drive_->press(Stop::areas, QStringLiteral("Remove volume"));
    QCOMPARE(volumes->count(), 3);
    QCOMPARE(std::ranges::count(project().areas->volumes, id, &level::AreaVolume::id), 0);
    QVERIFY(oneStepBack(before));
    QCOMPARE(volumes->count(), 4);
  }
  void escapeGivesUpWhatIsDrawnAndThenTheTool() {
    drive_->goTo(Stop::areas);
    drive_->lookAt({30, 0, 20}, 50);
    drive_->press(Stop::areas, QStringLiteral("Outline"));
    QVERIFY(window_->hintText().contains(QStringLiteral("Click the corners")));
    for (const Vec3& corner : {Vec3{30, 0, 17}, Vec3{33, 0, 17}, Vec3{33, 0, 19}}) drive_->click(corner);
    QVERIFY(window_->hintText().contains(QStringLiteral("press Enter")));
    QTest::keyClick(&window_->world(), Qt::Key_Escape);
    QTest::qWait(1);
    QVERIFY(window_->hintText().contains(QStringLiteral("Click the corners")));
    QTest::keyClick(&window_->world(), Qt::Key_Return);  // closes nothing: there are no corners
    QTest::keyClick(&window_->world(), Qt::Key_Escape);
    QTest::qWait(1);
    QTest::qWait(1);
    QVERIFY(window_->hintText().contains(QStringLiteral("Draw a volume")));
    // Of the two tools one is in hand at a time.
    drive_->press(Stop::areas, QStringLiteral("Box"));
    drive_->press(Stop::areas, QStringLiteral("Outline"));
    QVERIFY(!drive_->button(Stop::areas, QStringLiteral("Box"))->isChecked());
    QVERIFY(!work().document().canUndo());
  }
  void clickingTheFirstCornerClosesAnOutline() {
    drive_->goTo(Stop::areas);
    drive_->lookAt({33, 0, 18}, 22);
    drive_->press(Stop::areas, QStringLiteral("Outline"));
    for (const Vec3& corner : {Vec3{30, 0, 16.5}, Vec3{35, 0, 16.5}, Vec3{35, 0, 18.5}, Vec3{30, 0, 18.5}, Vec3{30, 0, 16.5}})
      drive_->click(corner);
    QCOMPARE(project().areas->volumes.size(), std::size_t{5});
    QCOMPARE(project().areas->volumes.back().outline.size(), std::size_t{4});
  }

  void linksAreChangedInEveryWay() {
    drive_->goTo(Stop::links);
    ItemList* links = list(Stop::links, QStringLiteral("Links"));
    choose(links, 0);
    const links::HandLink first = project().links->links[0];
    const std::string before = project::toJson(project());
    auto* kind = window_->sheet(static_cast<int>(Stop::links))->findChild<QComboBox*>(QStringLiteral("chosenKind"));
    kind->setFocus();
    QTest::keyClick(kind, kind->currentIndex() == 2 ? Qt::Key_Up : Qt::Key_Down);
    QVERIFY(project().links->links[0].kind != first.kind);
    undo();
    QVERIFY(project().links->links[0].kind == first.kind);
    toggle(Stop::links, QStringLiteral("Goes both ways"));
    QVERIFY(project().links->links[0].oneWay != first.oneWay);
    QVERIFY(links->textAt(0).contains(first.oneWay ? QStringLiteral("both ways") : QStringLiteral("one way")));
    QVERIFY(oneStepBack(before));
    type(field(Stop::links, QStringLiteral("Cost when taken")), QStringLiteral("7.5"));
    QCOMPARE(project().links->links[0].cost, 7.5);
    QVERIFY(oneStepBack(before));
    drive_->press(Stop::links, QStringLiteral("Turn round"));
    QVERIFY(project().links->links[0].from == first.to && project().links->links[0].to == first.from);
    QVERIFY(oneStepBack(before));
    window_->world().camera().lookAt({0, 0, 0}, 60);
    drive_->press(Stop::links, QStringLiteral("Show"));
    QVERIFY(glm::distance(window_->world().camera().target(), (first.from + first.to) * 0.5) < 1e-6);
    drive_->press(Stop::links, QStringLiteral("Remove"));
    QCOMPARE(project().links->links.size(), std::size_t{3});
    QVERIFY(drive_->waitForGround());
    QVERIFY(oneStepBack(before));
  }
  void aBrokenLinkSaysWhy() {
    drive_->goTo(Stop::links);
    ItemList* links = list(Stop::links, QStringLiteral("Links"));
    QCOMPARE(work().ground()->broken.size(), std::size_t{1});
    int told = 0;
    for (int i = 0; i < links->count(); ++i) {
      choose(links, i);
      for (QLabel* l : window_->sheet(static_cast<int>(Stop::links))->findChildren<QLabel*>())
        if (l->isVisible() && l->text().startsWith(QStringLiteral("Cannot be used"))) {
          ++told;
          QVERIFY(links->textAt(i).contains(QStringLiteral("broken")));
          QVERIFY(l->text().contains(QString::fromStdString(work().ground()->broken[0].why)));
        }
    }
    QCOMPARE(told, 1);
  }

  void groupsAreChangedInEveryWay() {
    drive_->goTo(Stop::crowd);
    ItemList* groups = list(Stop::crowd, QStringLiteral("Groups"));
    choose(groups, 1);
    const project::CrowdGroup second = project().crowd->groups[1];
    const std::string before = project::toJson(project());
    type(field(Stop::crowd, QStringLiteral("Agents in the group")), QStringLiteral("17"));
    QCOMPARE(project().crowd->groups[1].count, 17);
    QVERIFY(groups->textAt(1).contains(QStringLiteral("17 agents")));
    QVERIFY(oneStepBack(before));
    type(field(Stop::crowd, QStringLiteral("Radius of the bodies")), QStringLiteral("0.5"));
    QCOMPARE(project().crowd->groups[1].radius, 0.5);
    // The agent's own radius is nothing of its own.
    type(field(Stop::crowd, QStringLiteral("Radius of the bodies")), QString::number(work().agentKind().radius));
    QCOMPARE(project().crowd->groups[1].radius, 0.0);
    while (work().document().canUndo()) undo();
    QCOMPARE(project::toJson(project()), before);
    drive_->press(Stop::crowd, QStringLiteral("Remove group"));
    QCOMPARE(project().crowd->groups.size(), std::size_t{3});
    QCOMPARE(std::ranges::count(project().crowd->groups, second.id, &project::CrowdGroup::id), 0);
    QVERIFY(oneStepBack(before));
    type(field(Stop::crowd, QStringLiteral("Duration")), QStringLiteral("9"));
    QCOMPARE(project().crowd->seconds, 9.0);
  }
  void aRunIsCancelledAndRunAgain() {
    drive_->goTo(Stop::crowd);
    type(field(Stop::crowd, QStringLiteral("Duration")), QStringLiteral("3000"));
    drive_->press(Stop::crowd, QStringLiteral("Run"));
    QVERIFY(work().crowd().running());
    drive_->press(Stop::crowd, QStringLiteral("Cancel"));
    QVERIFY(!work().crowd().running() && !work().run());
    QVERIFY(!window_->reel().isVisible());
    type(field(Stop::crowd, QStringLiteral("Duration")), QStringLiteral("4"));
    QTest::keyClick(window_.get(), Qt::Key_R, Qt::ControlModifier);
    QVERIFY(drive_->waitForRun());
    QVERIFY(std::abs(work().run()->trace.duration() - 4) < 0.1);
    // The reel steps by one frame, and dragging in a lane goes to that time.
    Reel& reel = window_->reel();
    work().playback().setTime(2);
    const double step = work().run()->trace.step();
    int stepped = 0;
    for (QToolButton* b : reel.findChildren<QToolButton*>()) {
      const double from = work().playback().time();
      if (b == reel.playButton() || b->isCheckable()) continue;
      QTest::mouseClick(b, Qt::LeftButton);
      QVERIFY2(std::abs(std::abs(work().playback().time() - from) - step) < 1e-9, qPrintable(b->accessibleName()));
      ++stepped;
    }
    QCOMPARE(stepped, 2);
    Lanes* plot = reel.lanes();
    QTest::qWait(20);
    const QPoint at(static_cast<int>(plot->axisRect(0)->axis(QCPAxis::atBottom)->coordToPixel(1.5)), plot->axisRect(0)->center().y());
    QTest::mouseClick(plot, Qt::LeftButton, {}, at);
    QVERIFY2(std::abs(work().playback().time() - 1.5) < 0.1, qPrintable(QString::number(work().playback().time())));
  }
  void withoutGroupsThereIsNothingToRun() {
    drive_->goTo(Stop::crowd);
    while (!project().crowd->groups.empty()) {
      choose(list(Stop::crowd, QStringLiteral("Groups")), 0);
      drive_->press(Stop::crowd, QStringLiteral("Remove group"));
    }
    QVERIFY(!drive_->button(Stop::crowd, QStringLiteral("Run"))->isEnabled());
    QTest::keyClick(window_.get(), Qt::Key_R, Qt::ControlModifier);
    QVERIFY(!work().crowd().running());
  }

  void theTrailIsWalkedWithKeys() {
    drive_->goTo(Stop::level);
    window_->trail().setFocus();
    for (int i = 1; i <= 9; ++i) {
      QTest::keyClick(&window_->trail(), Qt::Key_Right);
      QCOMPARE(static_cast<int>(window_->stop()), std::min(i, window_->stopCount() - 1));
    }
    for (int i = 0; i < 9; ++i) QTest::keyClick(&window_->trail(), Qt::Key_Left);
    QVERIFY(window_->stop() == static_cast<int>(Stop::level));
  }
  void aClickOnTheStopThatWorksCancelsIt() {
    drive_->goTo(Stop::crowd);
    type(field(Stop::crowd, QStringLiteral("Duration")), QStringLiteral("3000"));
    drive_->press(Stop::crowd, QStringLiteral("Run"));
    QVERIFY(becomes([&] { return work().crowd().running(); }));
    QTest::qWait(1);
    drive_->goTo(Stop::crowd);
    QVERIFY(!work().crowd().running());
  }
  void theWorldIsTurnedMovedAndZoomedByMouse() {
    drive_->goTo(Stop::mesh);
    drive_->lookAt({30, 0, 22}, 40);
    WorldView& world = window_->world();
    const Vec3 target = world.camera().target();
    const QPoint middle = world.rect().center();
    auto drag = [&](Qt::MouseButton button, Qt::KeyboardModifiers modifiers) {
      QTest::mousePress(&world, button, modifiers, middle);
      QMouseEvent event(QEvent::MouseMove, middle + QPointF(60, 30), world.mapToGlobal(middle + QPointF(60, 30)), Qt::NoButton, button,
                        modifiers);
      QApplication::sendEvent(&world, &event);
      QTest::mouseRelease(&world, button, modifiers, middle + QPoint(60, 30));
    };
    const QMatrix4x4 before = world.camera().matrix();
    drag(Qt::LeftButton, {});  // without a tool
    QVERIFY(world.camera().matrix() != before && world.camera().target() == target);
    drag(Qt::MiddleButton, {});
    const Vec3 moved = world.camera().target();
    QVERIFY(glm::distance(moved, target) > 1);
    drag(Qt::RightButton, Qt::ShiftModifier);
    QVERIFY(glm::distance(moved, world.camera().target()) > 1);
    const double distance = world.camera().distance();
    QWheelEvent wheel(middle, world.mapToGlobal(middle), {}, {0, 240}, Qt::NoButton, {}, Qt::NoScrollPhase, false);
    QApplication::sendEvent(&world, &wheel);
    QVERIFY(std::abs(world.camera().distance() - distance * 0.85 * 0.85) < 1e-6);
  }
  void findingsAreCountedInWords() {
    work().change(QStringLiteral("Change"), [](project::Project& p) {
      project::edit(p.level, [](project::LevelSection& s) {
        s.roles["nobody"] = level::Role::obstacle, s.rules.push_back({"nothing*", level::Role::ground});
      });
    });
    QVERIFY(drive_->waitForGround());
    work().setAgent(1);  // links are beyond it
    QVERIFY(drive_->waitForGround());
    drive_->goTo(Stop::review);
    QString text;
    for (QLabel* label : window_->sheet(static_cast<int>(Stop::review))->findChildren<QLabel*>()) text += label->text();
    QVERIFY(text.contains(QStringLiteral("Ignored objects")) && text.contains(QStringLiteral("Links not for the agent")));
    std::set<std::string> codes;
    for (const KeptFinding& f : work().findings().all()) codes.insert(f.finding.code);
    QVERIFY(codes.size() >= 6);
    for (const std::string& code : codes)
      if (code.find('-') != std::string::npos) QVERIFY2(!text.contains(QString::fromStdString(code)), code.c_str());
  }
  void theReasonIsSaidWhereObjectsAreMarkedToo() {
    drive_->goTo(Stop::level);
    sheet<LevelSheet>(Stop::level).show(LevelSheet::Page::objects);
    drive_->lookAt({24, 0, 15.5}, 15);
    drive_->move({24, 0, 17});
    QVERIFY2(window_->readoutText().startsWith("Walkable: on sand_north"), qPrintable(window_->readoutText()));
    QCOMPARE(window_->readoutText().count(QStringLiteral("sand_north")), 1);
    // What is pointed at is named where the reason does not name it.
    drive_->lookAt({34.5, 6, 6.5}, 40);
    drive_->move({34.5, 12, 6.5});
    QCOMPARE(window_->readoutText().count(QStringLiteral("wind_tower")), 1);
    drive_->lookAt({24, 0, 15.5}, 15);
    // On every page, but not while something is placed.
    sheet<LevelSheet>(Stop::level).show(LevelSheet::Page::blockers);
    drive_->move({24.2, 0, 17});
    QVERIFY2(window_->readoutText().contains("Walkable"), qPrintable(window_->readoutText()));
    drive_->press(Stop::level, QStringLiteral("Box"));
    drive_->move({24.4, 0, 17});
    QVERIFY2(!window_->readoutText().contains("Walkable"), qPrintable(window_->readoutText()));
  }
};

QTEST_MAIN(TestSheets)
#include "sheets.moc"
