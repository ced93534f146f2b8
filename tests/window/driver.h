#pragma once
// Drives the real window with real mouse and key events, for the tests and the pictures.

#include <QApplication>
#include <QLabel>
#include <QPushButton>
#include <QTemporaryDir>
#include <QtTest>

#include "core/base/file.h"
#include "core/project/file.h"
#include "window/scene/theme.h"
#include "window/shell/main_window.h"

namespace dune::window {

constexpr int kPatience = 200000;  // milliseconds until a wait counts as failed: many, for tests never depend on how fast it is

/// The demo project written into a folder; returns the path of the project.
QString writeDemo(const QTemporaryDir& folder);

/// The stops of the trail, in order.
enum class Stop { level, agents, mesh, areas, links, routes, crowd, flight, review };

class Driver {
 public:
  explicit Driver(MainWindow& window);

  /// Waits until something holds, and then until the window shows it.
  static bool shown(const std::function<bool()>& condition);
  bool waitForGround();
  bool waitForRun();
  void goTo(Stop stop);
  /// Turns the eye to a place, near enough for exact clicks.
  void lookAt(const Vec3& place, double distance);
  QPoint pixelOf(const Vec3& place);
  void move(const Vec3& place);
  /// As people click: between down and up the window goes on.
  void click(const Vec3& place) { clickPixel(pixelOf(place)); }
  void clickPixel(const QPoint& pixel, Qt::KeyboardModifiers modifiers = {});
  void drag(const Vec3& from, const Vec3& to) { dragPixels(&window_.world(), pixelOf(from), pixelOf(to)); }
  static void dragPixels(QWidget* widget, const QPoint& from, const QPoint& to);
  QPushButton* button(Stop stop, const QString& text);
  void press(Stop stop, const QString& text);

 private:
  MainWindow& window_;
};

}  // namespace dune::window
