// The Edit menu and the keys of the world, wherever the focus is: copy, cut, put in, delete, choose all, give up, turn and move.

#include <QTableView>

#include "tests/window/demo_window.h"
#include "window/session/hand_made.h"
#include "window/stops/areas/areas_sheet.h"
#include "window/stops/level/level_sheet.h"

using namespace dune;
using namespace dune::window;

class TestEdit : public DemoWindow {
  Q_OBJECT

  void key(QWidget* at, Qt::Key k, Qt::KeyboardModifiers modifiers = {}) { QTest::keyClick(at, k, modifiers), QTest::qWait(1); }
  /// A control of the open sheet that is no text: the keys mean what the menu says there too.
  QWidget* aside() {
    for (QPushButton* b : window_->sheet(window_->stop())->findChildren<QPushButton*>())
      if (b->isVisible() && b->isEnabled()) return b->setFocus(Qt::TabFocusReason), b;
    return nullptr;
  }

 private slots:
  void whatPeopleMakeIsCopiedCutAndPutIn() {
    drive_->goTo(Stop::level);
    sheet<LevelSheet>(Stop::level).show(LevelSheet::Page::blockers);
    const std::size_t before = project().level->blockers.size();
    work().selection().choose(ThingKind::blocker, project().level->blockers[0].id);
    QTest::qWait(1);
    toFront();
    key(aside(), Qt::Key_C, Qt::ControlModifier);
    key(aside(), Qt::Key_V, Qt::ControlModifier);
    key(aside(), Qt::Key_V, Qt::ControlModifier);
    QCOMPARE(project().level->blockers.size(), before + 2);
    const auto& blockers = project().level->blockers;
    level::Blocker first = blockers[0], last = blockers.back();
    QVERIFY(last.id != first.id && last.at != first.at && last.at != blockers[before].at);
    last.id = first.id, last.at = first.at;
    QVERIFY(last == first);                        // the same but for its place
    key(aside(), Qt::Key_X, Qt::ControlModifier);  // the last one, which was chosen as it came
    QCOMPARE(project().level->blockers.size(), before + 1);
    key(aside(), Qt::Key_V, Qt::ControlModifier);
    QCOMPARE(project().level->blockers.size(), before + 2);
    for (int i = 0; i < 4; ++i) undo();
    QCOMPARE(project().level->blockers.size(), before);
  }
  void everyKindOfHandMadeThingIsCopied() {
    Workspace& w = work();
    add(w, level::AreaVolume{0, "ground", {{1, 1}, {2, 1}, {2, 2}}, 0, 1});
    add(w, links::HandLink{0, nav::LinkKind::jump, {1, 0, 1}, {3, 0, 1}, true, 2});
    add(w, project::CrowdGroup{0, {1, 0, 1}, {5, 0, 1}});
    project::CrowdObstacle o;
    o.track = {{1, 0, 1}, {2, 0, 1}};
    add(w, o);
    for (const ThingKind kind :
         {ThingKind::volume, ThingKind::link, ThingKind::group, ThingKind::obstacle, ThingKind::route, ThingKind::card}) {
      if (kind == ThingKind::route) w.selection().choose(kind, project().routes->routes[0].id);
      if (kind == ThingKind::card) w.selection().choose(kind, project().cards->cards[0].id);
      const int id = w.selection().id(kind);
      Clipping clipping;
      QVERIFY(clipping.copy(w, kind));
      clipping.paste(w, Vec3(7, 0.5, -3));
      QVERIFY(w.selection().id(kind) != id);
    }
    QVERIFY(chosenLink(w)->from == Vec3(7, 0.5, -3) && chosenLink(w)->to == Vec3(9, 0.5, -3) && chosenLink(w)->cost == 2);
    QVERIFY(chosenVolume(w)->outline[0] == plan(Vec3(7, 0, -3)) && chosenVolume(w)->top == 1.5);
    QVERIFY(chosenObstacle(w)->track[1] == Vec3(8, 0.5, -3));
    QVERIFY(chosenGroup(w)->goal == Vec3(11, 0.5, -3));
    Clipping nothing;
    QVERIFY(!nothing.copy(w, ThingKind::object) && nothing.empty());
    const auto steps = w.document().stepCount();
    nothing.paste(w, std::nullopt);
    QCOMPARE(w.document().stepCount(), steps);
  }
  void deleteAndEscapeAreHeardFromTheSheetToo() {
    drive_->goTo(Stop::links);
    const std::size_t links = project().links->links.size();
    work().selection().choose(ThingKind::link, project().links->links[0].id);
    QTest::qWait(1);
    toFront();
    key(aside(), Qt::Key_Delete);
    QCOMPARE(project().links->links.size(), links - 1);
    undo();
    drive_->press(Stop::links, QStringLiteral("Draw link"));
    QVERIFY(drive_->button(Stop::links, QStringLiteral("Draw link"))->isChecked());
    key(aside(), Qt::Key_Escape);
    QVERIFY(!drive_->button(Stop::links, QStringLiteral("Draw link"))->isChecked());
  }
  void whereOneTypesTheyAreOfTheText() {
    drive_->goTo(Stop::level);
    work().selection().choose(ThingKind::blocker, project().level->blockers[0].id);
    auto* filter = sheet<LevelSheet>(Stop::level).objects()->findChild<QLineEdit*>();
    toFront();
    filter->setFocus();
    QTest::keyClicks(filter, QStringLiteral("crate"));
    key(filter, Qt::Key_A, Qt::ControlModifier);
    QCOMPARE(filter->selectedText(), QStringLiteral("crate"));
    const std::size_t blockers = project().level->blockers.size();
    key(filter, Qt::Key_Delete);
    QVERIFY(filter->text().isEmpty());
    QCOMPARE(project().level->blockers.size(), blockers);
  }
  void allObjectsOfTheFilterAreChosen() {
    drive_->goTo(Stop::level);
    toFront();
    key(aside(), Qt::Key_A, Qt::ControlModifier);
    QCOMPARE(work().selection().all(ThingKind::object).size(), work().level()->level->objects.size());
    sheet<LevelSheet>(Stop::level).objects()->findChild<QLineEdit*>()->setText(QStringLiteral("crate"));
    key(aside(), Qt::Key_A, Qt::ControlModifier);
    const std::size_t crates = work().selection().all(ThingKind::object).size();
    QVERIFY(crates > 1 && crates < 20);
  }
  void theWorldTurnsAndMovesByKeys() {
    drive_->goTo(Stop::mesh);
    WorldView& world = window_->world();
    drive_->lookAt({20, 0, 20}, 30);
    world.setFocus();
    const auto eye = [&] { return world.camera().eye(); };
    const auto target = [&] { return world.camera().target(); };
    const Vec3 first = eye(), at = target();
    key(&world, Qt::Key_Left);
    QVERIFY(eye() != first && target() == at);
    key(&world, Qt::Key_Right);
    QVERIFY(glm::distance(eye(), first) < 1e-6);
    key(&world, Qt::Key_Up), key(&world, Qt::Key_Down);
    QVERIFY(glm::distance(eye(), first) < 1e-6);
    key(&world, Qt::Key_Right, Qt::ShiftModifier);
    QVERIFY(glm::distance(target(), at) > 0.5);
    key(&world, Qt::Key_Left, Qt::ShiftModifier);
    QVERIFY(glm::distance(target(), at) < 1e-6);
    key(&world, Qt::Key_PageUp);
    QVERIFY(world.camera().distance() < 30);
    key(&world, Qt::Key_PageDown);
    QVERIFY(std::abs(world.camera().distance() - 30) < 1e-6);
    // Straight down ends with a tilt, and its switch shows that.
    toFront();
    key(window_.get(), Qt::Key_D, Qt::ControlModifier);
    QVERIFY(world.camera().plan());
    world.setFocus();
    key(&world, Qt::Key_Up);
    QVERIFY(!world.camera().plan());
    auto* fromAbove = window_->findChild<QToolButton*>(QStringLiteral("fromAbove"));
    QVERIFY(fromAbove && fromAbove->isVisible() && !fromAbove->isChecked());
    QTest::mouseClick(fromAbove, Qt::LeftButton);
    QVERIFY(world.camera().plan() && fromAbove->isChecked());
  }
  void withoutAToolTheLeftButtonDoesTheSameAtEveryStop() {
    for (const Stop stop : {Stop::level, Stop::agents, Stop::mesh}) {
      drive_->goTo(stop);
      if (stop == Stop::level) sheet<LevelSheet>(Stop::level).show(LevelSheet::Page::objects);
      drive_->lookAt({24, 0, 20}, 30);
      const Vec3 eye = window_->world().camera().eye();
      const QPoint from = drive_->pixelOf({24, 0, 20});
      Driver::dragPixels(&window_->world(), from, from + QPoint(60, 10));
      QVERIFY(glm::distance(window_->world().camera().eye(), eye) > 1);
    }
  }
};

QTEST_MAIN(TestEdit)
#include "edit.moc"
