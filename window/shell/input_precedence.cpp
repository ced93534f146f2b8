#include "window/shell/input_precedence.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QAbstractSlider>
#include <QAbstractSpinBox>
#include <QComboBox>
#include <QKeyEvent>

namespace dune::window {

namespace {

bool isOwn(const QObject* control, int key) {
  const bool list = qobject_cast<const QAbstractItemView*>(control) || qobject_cast<const QComboBox*>(control);
  if (key == Qt::Key_Space) return list || qobject_cast<const QAbstractButton*>(control);
  if (key == Qt::Key_Home) return list || qobject_cast<const QAbstractSlider*>(control);
  return false;
}

bool takeKey(const QObject* watched, QKeyEvent& key) {
  if (key.modifiers() != Qt::NoModifier || !isOwn(watched, key.key())) return false;
  key.accept();
  return true;
}

bool isNumberOrChoice(const QObject* control) {
  return qobject_cast<const QAbstractSpinBox*>(control) || qobject_cast<const QComboBox*>(control);
}

/// An event that nobody takes goes on to what the control lies in.
bool leaveWheel(const QObject* watched, QEvent& wheel) {
  if (!isNumberOrChoice(watched) || static_cast<const QWidget*>(watched)->hasFocus()) return false;
  wheel.ignore();
  return true;
}

}  // namespace

bool InputPrecedence::eventFilter(QObject* watched, QEvent* event) {
  switch (event->type()) {
    case QEvent::ShortcutOverride:
      return takeKey(watched, *static_cast<QKeyEvent*>(event));
    case QEvent::Wheel:
      return leaveWheel(watched, *event);
    case QEvent::Polish:  // the wheel does not bring the focus either
      if (isNumberOrChoice(watched)) static_cast<QWidget*>(watched)->setFocusPolicy(Qt::StrongFocus);
      return false;
    default:
      return false;
  }
}

}  // namespace dune::window
