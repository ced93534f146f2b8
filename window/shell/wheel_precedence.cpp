#include "window/shell/wheel_precedence.h"

#include <QAbstractSlider>
#include <QAbstractSpinBox>
#include <QComboBox>
#include <QEvent>
#include <QScrollBar>

namespace dune::window {

namespace {

/// The control that a wheel over this widget would change.
QWidget* controlAt(QObject* watched) {
  for (auto* w = qobject_cast<QWidget*>(watched); w && !w->isWindow(); w = w->parentWidget())
    if (qobject_cast<QAbstractSpinBox*>(w) || qobject_cast<QComboBox*>(w) ||
        (qobject_cast<QAbstractSlider*>(w) && !qobject_cast<QScrollBar*>(w)))
      return w;
  return nullptr;
}

}  // namespace

/// An event that nobody takes goes on to what the control lies in.
bool WheelPrecedence::eventFilter(QObject* watched, QEvent* event) {
  // Nor does it bring the focus.
  if (auto* w = qobject_cast<QWidget*>(watched);
      w && event->type() == QEvent::Polish && w->focusPolicy() == Qt::WheelFocus && controlAt(w) == w)
    w->setFocusPolicy(Qt::StrongFocus);
  if (event->type() != QEvent::Wheel) return false;
  const QWidget* control = controlAt(watched);
  if (!control || control->hasFocus()) return false;
  event->ignore();
  return true;
}

}  // namespace dune::window
