// Whatever is drawn is chosen by a click on it and changed by its handles; a drag that is given up leaves everything as it was.

#include "tests/window/demo_window.h"
#include "window/session/hand_made.h"
#include "window/stops/level/level_sheet.h"
#include "window/stops/mesh/mesh_sheet.h"
#include "window/widgets/item_list.h"

using namespace dune;
using namespace dune::window;

class TestWorldEdit : public DemoWindow {
  Q_OBJECT

  ItemList* list(Stop stop, const QString& name) {
    for (ItemList* l : window_->sheet(static_cast<int>(stop))->findChildren<ItemList*>())
      if (l->accessibleName() == name) return l;
    return nullptr;
  }
  /// Presses at one pixel and moves to another without letting go.
  void hold(const QPoint& from, const QPoint& to) {
    QTest::mousePress(&window_->world(), Qt::LeftButton, {}, from);
    for (int i = 1; i <= 4; ++i) {
      const QPointF at = QPointF(from) + QPointF(to - from) * (i / 4.0);
      QMouseEvent event(QEvent::MouseMove, at, window_->world().mapToGlobal(at), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
      QApplication::sendEvent(&window_->world(), &event);
    }
    QTest::qWait(1);
  }
  void release(const QPoint& at) { QTest::mouseRelease(&window_->world(), Qt::LeftButton, {}, at), QTest::qWait(1); }
  std::string document() { return project::toJson(project()); }
  void undoes(const std::string& before) {
    undo();
    QVERIFY2(document() == before, work().document().undoLabel().c_str());
  }

 private slots:
  void aLinkIsChosenAndItsEndsAreMoved() {
    drive_->goTo(Stop::links);
    const links::HandLink link = project().links->links[1];  // the drop
    drive_->lookAt(link.from, 14);
    const auto flight = nav::flight(link.kind, link.from, link.to, 0.4);
    drive_->click(flight[flight.size() / 2] + Vec3{0, 0.08, 0});
    QCOMPARE(work().selection().id(ThingKind::link), link.id);
    QCOMPARE(list(Stop::links, QStringLiteral("Links"))->currentRow(), 1);
    const std::string before = document();
    drive_->drag(link.to, {18.5, 0, 28.5});
    QVERIFY2(glm::distance(project().links->links[1].to, Vec3(18.5, 0, 28.5)) < 0.1, "the landing");
    QCOMPARE(project().links->links[1].from, link.from);
    QVERIFY(drive_->waitForGround());
    undoes(before);
    // Given up by the second button, and by Esc.
    for (const bool byKey : {false, true}) {
      hold(drive_->pixelOf(link.to), drive_->pixelOf({18.5, 0, 28.5}));
      QVERIFY(document() != before);
      if (byKey)
        QTest::keyClick(&window_->world(), Qt::Key_Escape);
      else
        QTest::mouseClick(&window_->world(), Qt::RightButton, {}, drive_->pixelOf({18.5, 0, 28.5}));
      QCOMPARE(document(), before);
      release(drive_->pixelOf({18.5, 0, 28.5}));
      QCOMPARE(document(), before);
      QVERIFY(!work().document().canUndo());
      QVERIFY(!QApplication::activePopupWidget());  // the second button asked for no menu
    }
    QTest::keyClick(&window_->world(), Qt::Key_Delete);
    QCOMPARE(project().links->links.size(), std::size_t{3});
    undoes(before);
  }
  void aVolumeIsChosenAndItsCornersAreMoved() {
    drive_->goTo(Stop::areas);
    const level::AreaVolume volume = project().areas->volumes[3];
    drive_->lookAt(lift(volume.outline[1], 0), 20);
    // On the side between two corners, away from both.
    drive_->click(lift((volume.outline[1] + volume.outline[2]) * 0.5, 0.03));
    QCOMPARE(work().selection().id(ThingKind::volume), volume.id);
    const std::string before = document();
    const Vec2 to = volume.outline[1] + Vec2{1, 1};
    drive_->drag(lift(volume.outline[1], 0), lift(to, 0));
    QVERIFY(glm::distance(project().areas->volumes[3].outline[1], to) < 0.1);
    QCOMPARE(project().areas->volumes[3].outline[0], volume.outline[0]);
    undoes(before);
    // Its top is dragged up.
    Vec2 middle{0};
    for (const Vec2& q : volume.outline) middle += q / static_cast<double>(volume.outline.size());
    drive_->drag(lift(middle, volume.top), lift(middle, volume.top + 1));
    QVERIFY2(std::abs(project().areas->volumes[3].top - volume.top - 1) < 0.1,
             qPrintable(QString::number(project().areas->volumes[3].top)));
    undoes(before);
    QTest::keyClick(&window_->world(), Qt::Key_Delete);
    QCOMPARE(project().areas->volumes.size(), std::size_t{3});
    undoes(before);
  }
  void aGroupIsChosenAndItsWayIsMoved() {
    drive_->goTo(Stop::crowd);
    const project::CrowdGroup group = project().crowd->groups[1];
    drive_->lookAt((group.start + group.goal) * 0.5, 30);
    drive_->click(glm::mix(group.start, group.goal, 0.4) + Vec3{0, 0.1, 0});
    QCOMPARE(work().selection().id(ThingKind::group), group.id);
    const std::string before = document();
    drive_->drag(group.goal, {26, 0, 18});
    QVERIFY(glm::distance(project().crowd->groups[1].goal, Vec3(26, 0, 18)) < 0.1);
    QCOMPARE(project().crowd->groups[1].start, group.start);
    undoes(before);
    QTest::keyClick(&window_->world(), Qt::Key_Delete);
    QCOMPARE(project().crowd->groups.size(), std::size_t{3});
    undoes(before);
  }
  void aBlockerThatIsDraggedComesBackWithEsc() {
    drive_->goTo(Stop::level);
    drive_->lookAt({44, 0, 25.3}, 12);
    static_cast<LevelSheet*>(window_->sheet(static_cast<int>(Stop::level)))->show(LevelSheet::Page::blockers);
    QTest::qWait(1);
    const std::string before = document();
    hold(drive_->pixelOf({44, 1.1, 25.3}), drive_->pixelOf({46, 1.1, 26.3}));
    QVERIFY(document() != before);
    QTest::keyClick(&window_->world(), Qt::Key_Escape);
    QCOMPARE(document(), before);
    release(drive_->pixelOf({46, 1.1, 26.3}));
    QCOMPARE(document(), before);
    QVERIFY(drive_->waitForGround());
  }
  void aCardIsChosenInTheWorldAndEmptySpaceIsAnswered() {
    drive_->goTo(Stop::mesh);
    static_cast<MeshSheet*>(window_->sheet(static_cast<int>(Stop::mesh)))->show(MeshSheet::Page::cards);
    QTest::qWait(1);
    const project::Card card = project().cards->cards[1];
    drive_->lookAt(card.at, 12);
    drive_->click(card.at + Vec3{0, 0.9, 0});
    QCOMPARE(work().selection().id(ThingKind::card), card.id);
    QCOMPARE(project().cards->cards.size(), std::size_t{3});  // chosen, not pinned anew
    // Beside the level there is nothing to ask; that is said, and no card is pinned.
    window_->world().camera().lookAt({200, 0, 200}, 30);
    window_->world().redraw();
    QTest::qWait(1);
    const QPoint nothing = window_->world().rect().center();
    QVERIFY(!window_->world().pointerAt(nothing).hit);
    QTest::mouseClick(&window_->world(), Qt::LeftButton, {}, nothing);
    QTest::qWait(1);
    QVERIFY2(window_->readoutText().startsWith(QStringLiteral("Nothing to stand on here")), qPrintable(window_->readoutText()));
    QCOMPARE(project().cards->cards.size(), std::size_t{3});
  }
  void aBodyIsFollowedByAClick() {
    work().change("Short", [](project::Project& p) { project::edit(p.crowd, [](project::CrowdSection& s) { s.seconds = 2; }); });
    QVERIFY(drive_->waitForGround());
    work().runCrowd();
    QVERIFY(drive_->waitForRun());
    drive_->goTo(Stop::review);
    const auto& trace = work().run()->trace;
    const trace::Sample body = trace.at(work().playback().frame(), 20);
    QVERIFY(work().playback().body() != body.id);
    drive_->lookAt(body.at, 10);
    drive_->click(body.at + Vec3{0, 0.9, 0});
    QCOMPARE(work().playback().body(), body.id);
  }
};

QTEST_MAIN(TestWorldEdit)
#include "world_edit.moc"
