#include "window/scene/key_mouse.h"

#include <QApplication>
#include <QCursor>
#include <QMouseEvent>
#include <algorithm>

namespace dune::window {

namespace {
constexpr double kStride = 12;  // pixels
}

bool KeyMouse::take(const QKeyEvent& key) {
  const auto modifiers = key.modifiers() & ~Qt::KeypadModifier;
  if (!(modifiers & Qt::ControlModifier) || modifiers & ~(Qt::ControlModifier | Qt::ShiftModifier)) return false;
  const double by = modifiers & Qt::ShiftModifier ? 1 : kStride;
  switch (key.key()) {
    case Qt::Key_Left:
      return move({-by, 0}), true;
    case Qt::Key_Right:
      return move({by, 0}), true;
    case Qt::Key_Up:
      return move({0, -by}), true;
    case Qt::Key_Down:
      return move({0, by}), true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      return toggle(), true;
    default:
      return false;
  }
}

QPointF KeyMouse::at() const { return at_.value_or(QPointF(widget_.rect().center())); }

/// The real pointer goes along, so that one sees where it is.
void KeyMouse::move(const QPointF& by) {
  const QPointF to = at() + by;
  at_ = {std::clamp(to.x(), 0.0, widget_.width() - 1.0), std::clamp(to.y(), 0.0, widget_.height() - 1.0)};
  QCursor::setPos(widget_.mapToGlobal(at_->toPoint()));
  send(QEvent::MouseMove, Qt::NoButton);
}

void KeyMouse::letGo() {
  if (down_) toggle();
}

void KeyMouse::toggle() {
  down_ = !down_;
  send(down_ ? QEvent::MouseButtonPress : QEvent::MouseButtonRelease, Qt::LeftButton);
}

void KeyMouse::send(QEvent::Type type, Qt::MouseButton button) {
  QMouseEvent event(type, at(), widget_.mapToGlobal(at()), button, down_ ? Qt::LeftButton : Qt::NoButton, Qt::NoModifier);
  QApplication::sendEvent(&widget_, &event);
}

}  // namespace dune::window
