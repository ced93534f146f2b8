#pragma once
// The mouse over a widget, moved and pressed by keys: so that what is drawn or dragged in the world can be done without a mouse.

#include <QKeyEvent>
#include <QPointF>
#include <QWidget>
#include <optional>

namespace dune::window {

class KeyMouse {
 public:
  explicit KeyMouse(QWidget& widget) : widget_(widget) {}
  /// Ctrl with an arrow key moves it, with Shift too by single pixels; Ctrl with Enter presses the left button, and lets it go. False
  /// when the key is another one.
  bool take(const QKeyEvent& key);
  /// A button that keys hold down goes up: the keys belong to something else now.
  void letGo();
  /// Where it is; in the middle before it was moved.
  QPointF at() const;

 private:
  void move(const QPointF& by);
  void toggle();
  void send(QEvent::Type type, Qt::MouseButton button);

  QWidget& widget_;
  std::optional<QPointF> at_;
  bool down_ = false;
};

}  // namespace dune::window
