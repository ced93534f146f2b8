#pragma once
// Drives the real window with real mouse and key events, for the tests and the pictures.

#include <QApplication>
#include <QLabel>
#include <QPushButton>
#include <QTemporaryDir>
#include <QtTest>

#include "core/base/file.h"
#include "core/project/file.h"
#include "demo/depot.h"
#include "window/scene/theme.h"
#include "window/shell/main_window.h"

namespace dune::window {

constexpr int kPatience = 60000;  // milliseconds until a wait counts as failed; tests never depend on how fast it is

/// The demo project written into a folder; returns the path of the project.
inline QString writeDemo(const QTemporaryDir& folder) {
  const QString level = folder.filePath(QStringLiteral("saltwind-depot.glb")),
                project = folder.filePath(QStringLiteral("saltwind-depot.dunestep"));
  if (!writeFile(level.toStdString(), demo::depotLevel().bytes()) || !project::save(project.toStdString(), demo::depotProject())) return {};
  return project;
}

/// The stops of the trail, in order.
enum class Stop { level, agents, mesh, areas, links, routes, crowd, review };

class Driver {
 public:
  explicit Driver(MainWindow& window) : window_(window) {
    window_.activateWindow();
    QApplication::setActiveWindow(&window_);  // there is no window manager under Xvfb
    QTest::qWait(20);
  }

  /// Waits until something holds, and then until the window shows it.
  template <class Condition>
  static bool shown(Condition&& condition) {
    const bool holds = QTest::qWaitFor(condition, kPatience);
    QTest::qWait(1);
    return holds;
  }
  bool waitForGround() {
    return shown([this] { return window_.workspace().ground() && window_.workspace().groundFresh() && !window_.workspace().building(); });
  }
  bool waitForRun() {
    return shown([this] { return window_.workspace().run() && window_.workspace().runFresh() && !window_.workspace().crowd().running(); });
  }
  void goTo(Stop stop) {
    QTest::mouseClick(&window_.trail(), Qt::LeftButton, {}, window_.trail().placeOf(static_cast<int>(stop)));
    QTest::qWait(1);
  }
  /// Turns the eye to a place, near enough for exact clicks.
  void lookAt(const Vec3& place, double distance) {
    window_.world().camera().lookAt(place, distance);
    window_.world().redrawHand();
    window_.world().update();
    QTest::qWait(1);
  }
  QPoint pixelOf(const Vec3& place) {
    QPointF at;
    window_.world().camera().project(place, at);
    return at.toPoint();
  }
  void move(const Vec3& place) { QTest::mouseMove(&window_.world(), pixelOf(place)), QTest::qWait(1); }
  /// As people click: between down and up the window goes on.
  void click(const Vec3& place) { clickPixel(pixelOf(place)); }
  void clickPixel(const QPoint& pixel, Qt::KeyboardModifiers modifiers = {}) {
    QTest::mousePress(&window_.world(), Qt::LeftButton, modifiers, pixel);
    QTest::qWait(2);
    QTest::mouseRelease(&window_.world(), Qt::LeftButton, modifiers, pixel);
    QTest::qWait(1);
  }
  void drag(const Vec3& from, const Vec3& to) { dragPixels(&window_.world(), pixelOf(from), pixelOf(to)); }
  static void dragPixels(QWidget* widget, const QPoint& from, const QPoint& to) {
    QTest::mousePress(widget, Qt::LeftButton, {}, from);
    QTest::qWait(1);
    for (int i = 1; i <= 8; ++i) {
      // QTest::mouseMove sends no buttons; a drag needs them.
      const QPointF at = QPointF(from) + QPointF(to - from) * (i / 8.0);
      QMouseEvent event(QEvent::MouseMove, at, widget->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
      QApplication::sendEvent(widget, &event);
      if (i == 4) QTest::qWait(1);
    }
    QTest::qWait(1);
    QTest::mouseRelease(widget, Qt::LeftButton, {}, to);
    QTest::qWait(1);
  }
  QPushButton* button(Stop stop, const QString& text) {
    for (QPushButton* b : window_.sheet(static_cast<int>(stop))->findChildren<QPushButton*>())
      if (b->text() == text) return b;
    return nullptr;
  }
  void press(Stop stop, const QString& text) {
    QPushButton* b = button(stop, text);
    QVERIFY2(b, qPrintable(text));
    QTest::mouseClick(b, Qt::LeftButton);
    QTest::qWait(1);
  }

 private:
  MainWindow& window_;
};

}  // namespace dune::window
