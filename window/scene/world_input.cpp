// What the mouse and the keys do in the world when no hand takes them: turn, move, zoom.

#include <QMouseEvent>
#include <cmath>

#include "window/scene/world_keys.h"
#include "window/scene/world_view.h"

namespace dune::window {

void WorldView::mousePressEvent(QMouseEvent* event) {
  setFocus();
  last_ = pressed_ = event->position();
  pressedIn_ = sideAt(event->position());
  turned_ = false;
  Pointer pointer = pointerAt(event->position(), event->modifiers());
  pointer.thing = thingAt(event->position());
  holding_ = hand_ && hand_->press(pointer, event->button());
  redrawHand();
}

void WorldView::mouseMoveEvent(QMouseEvent* event) {
  constexpr double kClick = 4;  // pixels: what moves further turns the view
  const QPointF moved = event->position() - last_;
  const bool panning =
      event->buttons() & Qt::MiddleButton || (event->buttons() & Qt::RightButton && event->modifiers() & Qt::ShiftModifier);
  turned_ = turned_ || (event->buttons() && !holding_ && QLineF(event->position(), pressed_).length() >= kClick);
  if (turned_ && panning)
    camera_.pan(moved.x(), moved.y());
  else if (turned_ && event->buttons())
    turn(moved, event->position() - pressed_);
  if (turned_ || !event->buttons() || holding_) last_ = event->position();
  const Pointer pointer = pointerAt(event->position(), event->modifiers());
  if (hand_ && holding_) hand_->drag(pointer);
  if (hand_ && !event->buttons()) hand_->hover(pointer);
  redrawHand();
  emit pointed(pointer);
}

/// Looking straight down ends with a clear pull up or down.
void WorldView::turn(const QPointF& moved, const QPointF& sincePressed) {
  constexpr double kTilt = 16;  // pixels
  if (std::abs(sincePressed.y()) > std::max(kTilt, std::abs(sincePressed.x()))) endPlan();
  camera_.orbit(moved.x(), moved.y());
}

void WorldView::endPlan() {
  if (!camera_.plan()) return;
  camera_.tilt();
  emit tilted();
}

void WorldView::mouseReleaseEvent(QMouseEvent* event) {
  Pointer pointer = pointerAt(event->position(), event->modifiers());
  pointer.thing = thingAt(event->position());
  if (holding_) {
    if (hand_) hand_->drop(pointer);
    holding_ = event->buttons() != Qt::NoButton;  // what began with one button ends with the last
  } else if (!turned_) {
    if (hand_) hand_->click(pointer, event->button());
    if (event->button() == Qt::RightButton) emit menuAsked(pointer, event->globalPosition().toPoint());
  }
  if (!event->buttons()) pressedIn_ = Side::both;
  redrawHand();
}

void WorldView::mouseDoubleClickEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton) return;
  const Pointer pointer = pointerAt(event->position(), event->modifiers());
  if (!hand_ || !hand_->doubleClick(pointer)) emit doubleClicked(pointer);
  redrawHand();
}

void WorldView::wheelEvent(QWheelEvent* event) {
  constexpr double kFarthest = 3;  // times as far as what one looks at: beyond it a notch would fly away
  const Pointer pointer = pointerAt(event->position());
  const double notches = event->angleDelta().y() / 120.0;
  if ((event->modifiers() & Qt::ShiftModifier) && hand_ && hand_->raise(pointer, notches)) {
    redrawHand();
    emit pointed(pointer);
    return;
  }
  Vec3 towards = pointer.hit ? pointer.hit->at : meetPlane(pointer.ray, camera_.target().y).value_or(camera_.target());
  if (!pointer.hit && glm::distance(towards, camera_.eye()) > kFarthest * camera_.distance()) towards = camera_.target();
  camera_.zoom(std::pow(0.85, notches), towards);
  redrawHand();
  redraw();
}

void WorldView::keyPressEvent(QKeyEvent* event) {
  if (keyMouse_.take(*event)) return;
  if (tiltsByKey(*event)) endPlan();
  if (moveByKey(camera_, *event)) {
    redraw();
  } else if (!hand_ || !hand_->key(event->key())) {
    return QWidget::keyPressEvent(event);
  }
  redrawHand();
}

void WorldView::focusOutEvent(QFocusEvent* event) {
  keyMouse_.letGo();
  QWidget::focusOutEvent(event);
}

}  // namespace dune::window
