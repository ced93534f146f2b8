#include "tests/window/driver.h"

#include "demo/depot.h"

namespace dune::window {

QString writeDemo(const QTemporaryDir& folder) {
  const QString level = folder.filePath(QStringLiteral("saltwind-depot.glb")),
                project = folder.filePath(QStringLiteral("saltwind-depot.dunestep"));
  if (!writeFile(level.toStdString(), demo::depotLevel().bytes()) || !project::save(project.toStdString(), demo::depotProject())) return {};
  return project;
}

Driver::Driver(MainWindow& window) : window_(window) {
  window_.activateWindow();
  QApplication::setActiveWindow(&window_);  // there is no window manager under Xvfb
  window_.world().setRefined(false);        // nobody looks, and several of them run at once
  QTest::qWait(20);
}

bool Driver::shown(const std::function<bool()>& condition) {
  const bool holds = QTest::qWaitFor(condition, kPatience);
  QTest::qWait(1);
  return holds;
}

bool Driver::waitForGround() {
  return shown([this] { return window_.workspace().ground() && window_.workspace().groundFresh() && !window_.workspace().building(); });
}

bool Driver::waitForRun() {
  return shown([this] { return window_.workspace().run() && window_.workspace().runFresh() && !window_.workspace().crowd().running(); });
}

void Driver::goTo(Stop stop) {
  QTest::mouseClick(&window_.trail(), Qt::LeftButton, {}, window_.trail().placeOf(static_cast<int>(stop)));
  QTest::qWait(1);
}

void Driver::lookAt(const Vec3& place, double distance) {
  window_.world().camera().lookAt(place, distance);
  window_.world().redrawHand();
  window_.world().redraw();
  QTest::qWait(1);
}

QPoint Driver::pixelOf(const Vec3& place) {
  QPointF at;
  window_.world().camera().project(place, at);
  return at.toPoint();
}

// The display tells of the move when it gets to it; a mouse that is there already is not told of at all.
void Driver::move(const Vec3& place) {
  constexpr int kDisplay = 500;  // milliseconds
  bool told = false;
  const auto listening = QObject::connect(&window_.world(), &WorldView::pointed, [&told] { told = true; });
  QTest::mouseMove(&window_.world(), pixelOf(place));
  (void)QTest::qWaitFor([&told] { return told; }, kDisplay);
  QObject::disconnect(listening);
  QTest::qWait(1);
}
void Driver::clickPixel(const QPoint& pixel, Qt::KeyboardModifiers modifiers) {
  QTest::mousePress(&window_.world(), Qt::LeftButton, modifiers, pixel);
  QTest::qWait(2);
  QTest::mouseRelease(&window_.world(), Qt::LeftButton, modifiers, pixel);
  QTest::qWait(1);
}

void Driver::dragPixels(QWidget* widget, const QPoint& from, const QPoint& to) {
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

QPushButton* Driver::button(Stop stop, const QString& text) {
  QPushButton* found = nullptr;  // pages may have buttons of the same name: the one that can be seen is meant
  for (QPushButton* b : window_.sheet(static_cast<int>(stop))->findChildren<QPushButton*>())
    if (b->text() == text && (!found || b->isVisible())) found = b;
  return found;
}

void Driver::press(Stop stop, const QString& text) {
  QPushButton* b = button(stop, text);
  QVERIFY2(b, qPrintable(text));
  QTest::mouseClick(b, Qt::LeftButton);
  QTest::qWait(1);
}

}  // namespace dune::window
