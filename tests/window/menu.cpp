// The menu of a right click in the world: on objects, on blockers, on places.

#include <QMenu>
#include <QSlider>

#include "tests/window/demo_window.h"
#include "window/stops/agents/agents_sheet.h"
#include "window/stops/level/level_sheet.h"
#include "window/stops/mesh/mesh_sheet.h"

using namespace dune;
using namespace dune::window;

class TestMenu : public DemoWindow {
  Q_OBJECT

  /// Right-clicks a place and gives the menu that comes up; null when none does.
  QMenu* menuAt(const Vec3& place) {
    QTest::mouseClick(&window_->world(), Qt::RightButton, {}, drive_->pixelOf(place));
    return qobject_cast<QMenu*>(QApplication::activePopupWidget());
  }
  static QAction* find(const QMenu* menu, const QString& text) {
    for (QAction* a : menu->actions()) {
      if (a->text() == text) return a;
      if (a->menu())
        if (QAction* below = find(a->menu(), text)) return below;
    }
    return nullptr;
  }
  /// Chooses an entry as a person does: with a click where it stands.
  void choose(QMenu* menu, const QString& text) {
    QVERIFY2(menu, qPrintable(text));
    QAction* action = find(menu, text);
    QVERIFY2(action, qPrintable(text));
    for (QMenu* open = menu; !open->actions().contains(action);) {
      for (QAction* a : open->actions())
        if (a->menu() && find(a->menu(), text)) {
          QTest::mouseClick(open, Qt::LeftButton, {}, open->actionGeometry(a).center());
          QVERIFY(becomes([&] { return a->menu()->isVisible(); }));
          open = a->menu();
          break;
        }
    }
    auto* holder = qobject_cast<QMenu*>(QApplication::activePopupWidget());
    QVERIFY(holder && holder->actions().contains(action));
    QTest::mouseClick(holder, Qt::LeftButton, {}, holder->actionGeometry(action).center());
    QTest::qWait(1);
  }

 private slots:
  void anObjectGetsARole() {
    drive_->lookAt({49.6, 0, 14}, 15);
    const Vec3 top{49.6, 1.1, 14};  // of crate_3
    QMenu* menu = menuAt(top);
    QVERIFY(menu);
    QCOMPARE(menu->actions()[0]->text(), QStringLiteral("crate_3: ground"));
    QVERIFY(find(menu, QStringLiteral("ground"))->isChecked());
    choose(menu, QStringLiteral("obstacle"));
    QVERIFY(project().level->roles.at("crate_3") == level::Role::obstacle);
    QVERIFY(drive_->waitForGround());
    QVERIFY(!ground(top));
    undo();
    QVERIFY(!project().level->roles.contains("crate_3"));
  }
  void anObjectIsChosenInTheList() {
    drive_->goTo(Stop::mesh);
    drive_->lookAt({49.6, 0, 14}, 15);
    choose(menuAt({49.6, 1.1, 14}), QStringLiteral("Choose in the list"));
    QCOMPARE(window_->stop(), static_cast<int>(Stop::level));
    QCOMPARE(work().selection().all(ThingKind::object), std::set<std::string>{"crate_3"});
  }
  void aBlockerIsCopiedAndRemoved() {
    drive_->lookAt({44, 0, 25.3}, 12);
    const Vec3 top{44, 1.1, 25.3};
    choose(menuAt(top), QStringLiteral("Copy it"));
    QCOMPARE(project().level->blockers.size(), std::size_t{3});
    QCOMPARE(project().level->blockers[2].size, project().level->blockers[0].size);
    choose(menuAt(top), QStringLiteral("Remove it"));
    QCOMPARE(project().level->blockers.size(), std::size_t{2});
    QCOMPARE(project().level->blockers[0].id, 2);
    undo(), undo();
    QCOMPARE(project().level->blockers[0].id, 1);
    choose(menuAt(top), QStringLiteral("Change it"));
    QCOMPARE(work().selection().id(ThingKind::blocker), 1);
    QVERIFY(sheet<LevelSheet>(Stop::level).blockers()->isVisible());
  }
  void placesArePinnedSeededFilledAndStoodOn() {
    drive_->lookAt({20, 0, 18}, 15);
    const Vec3 at{20, 0, 18};
    choose(menuAt(at), QStringLiteral("Pin a card: why is there (no) ground?"));
    QCOMPARE(window_->stop(), static_cast<int>(Stop::mesh));
    QVERIFY(glm::distance(project().cards->cards.back().at, at) < 0.1);
    choose(menuAt(at), QStringLiteral("Put a box here"));
    QVERIFY(glm::distance(project().level->blockers.back().at, at) < 0.1);
    QVERIFY(drive_->waitForGround());
    QVERIFY(!ground(at));
    undo();
    choose(menuAt(at), QStringLiteral("Add a seed here"));
    QCOMPARE(project().level->seeds.size(), std::size_t{1});
    undo();
    choose(menuAt(at), QStringLiteral("Stand the Porter here"));
    QVERIFY(glm::distance(sheet<AgentsSheet>(Stop::agents).put()->feet, at) < 0.1);
    choose(menuAt(at), QStringLiteral("Cut away what is above"));
    QVERIFY(window_->world().cutAway() > 1.8 && window_->world().cutAway() < 2.2);
  }
  void turningTheViewIsNoClick() {
    drive_->lookAt({20, 0, 18}, 15);
    const QPoint from = drive_->pixelOf({20, 0, 18});
    QTest::mousePress(&window_->world(), Qt::RightButton, {}, from);
    const QPointF to = from + QPoint(40, 10);
    QMouseEvent move(QEvent::MouseMove, to, window_->world().mapToGlobal(to), Qt::NoButton, Qt::RightButton, Qt::NoModifier);
    QApplication::sendEvent(&window_->world(), &move);
    QTest::mouseRelease(&window_->world(), Qt::RightButton, {}, to.toPoint());
    QVERIFY(!QApplication::activePopupWidget());
    // Nothing can be done with the sky.
    QVERIFY(!menuAt({20, 400, -900}));
  }
};

QTEST_MAIN(TestMenu)
#include "menu.moc"
