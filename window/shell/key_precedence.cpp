#include "window/shell/key_precedence.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QAbstractSlider>
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

}  // namespace

bool KeyPrecedence::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() != QEvent::ShortcutOverride) return false;
  const auto* key = static_cast<QKeyEvent*>(event);
  if (key->modifiers() != Qt::NoModifier || !isOwn(watched, key->key())) return false;
  event->accept();
  return true;
}

}  // namespace dune::window
