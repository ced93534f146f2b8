#include "window/help/commands.h"

#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QCoreApplication>
#include <QMenu>
#include <QMenuBar>
#include <QPointer>
#include <QPushButton>
#include <QTabWidget>

#include "window/scene/world_keys.h"
#include "window/widgets/number_field.h"

namespace dune::window {

namespace {

/// Without the mark of the key that opens it.
QString plain(QString text) { return text.remove(QLatin1Char('&')); }

void addMenu(const QMenu& menu, const QString& where, std::vector<Command>& into) {
  for (QAction* action : menu.actions()) {
    if (action->isSeparator() || !action->isEnabled()) continue;
    if (action->menu()) {
      addMenu(*action->menu(), where + QStringLiteral(" › ") + plain(action->text()), into);
      continue;
    }
    into.push_back(
        {plain(action->text()), where, action->shortcut().toString(QKeySequence::NativeText), [action = QPointer<QAction>(action)] {
           if (action) action->trigger();
         }});
  }
}

/// The pages that hold a control, from the outermost on, each with the tabs that show it.
std::vector<std::pair<QTabWidget*, int>> pagesOf(const QWidget& control, const QWidget& sheet) {
  std::vector<std::pair<QTabWidget*, int>> pages;
  for (QWidget* w = control.parentWidget(); w && w != sheet.parentWidget(); w = w->parentWidget())
    if (auto* tabs = qobject_cast<QTabWidget*>(w))
      for (int i = 0; i < tabs->count(); ++i)
        if (tabs->widget(i)->isAncestorOf(&control)) pages.insert(pages.begin(), {tabs, i});
  return pages;
}

void press(QWidget& control) {
  if (auto* button = qobject_cast<QAbstractButton*>(&control); button && button->isEnabled() && button->isVisible())
    button->click();
  else
    control.setFocus(Qt::ShortcutFocusReason);
}

Command commandOf(QWidget& control, const QString& name, QWidget& sheet, const QString& stop, const std::function<void()>& open) {
  QString where = stop;
  const auto pages = pagesOf(control, sheet);
  for (const auto& [tabs, at] : pages) where += QStringLiteral(" › ") + plain(tabs->tabText(at));
  return {plain(name), where, {}, [open, pages, control = QPointer<QWidget>(&control)] {
            if (!control) return;
            open();
            for (const auto& [tabs, at] : pages) tabs->setCurrentIndex(at);
            QMetaObject::invokeMethod(
                control,
                [control] {
                  if (control) press(*control);
                },
                Qt::QueuedConnection);
          }};
}

/// What is not shown whatever page is open belongs to something that is not there now.
bool isHeld(const QWidget& control, const QWidget& sheet) {
  for (const QWidget* w = &control; w && w != &sheet; w = w->parentWidget())
    if (w->isHidden() && !qobject_cast<const QTabWidget*>(w->parentWidget() ? w->parentWidget()->parentWidget() : nullptr)) return false;
  return true;
}

}  // namespace

std::vector<Command> menuCommands(const QMenuBar& menus) {
  std::vector<Command> all;
  for (const QAction* action : menus.actions())
    if (action->menu()) {
      emit action->menu()->aboutToShow();  // some are filled when they open
      addMenu(*action->menu(), plain(action->text()), all);
    }
  return all;
}

std::vector<Command> sheetCommands(QWidget& sheet, const QString& stop, const std::function<void()>& open) {
  std::vector<Command> all;
  for (QWidget* control : sheet.findChildren<QWidget*>()) {
    if (!isHeld(*control, sheet)) continue;
    if (auto* button = qobject_cast<QAbstractButton*>(control)) {
      const bool own = qobject_cast<QPushButton*>(button) || qobject_cast<QCheckBox*>(button);
      if (own && !button->text().isEmpty() && button->isEnabledTo(&sheet))
        all.push_back(commandOf(*button, button->text(), sheet, stop, open));
    } else if (auto* number = qobject_cast<NumberField*>(control)) {
      if (number->isEnabledTo(&sheet)) all.push_back(commandOf(*number->spin(), number->spin()->accessibleName(), sheet, stop, open));
    } else if (auto* choice = qobject_cast<QComboBox*>(control); choice && !choice->accessibleName().isEmpty()) {
      all.push_back(commandOf(*choice, choice->accessibleName(), sheet, stop, open));
    }
  }
  return all;
}

std::vector<Command> worldCommands() {
  std::vector<Command> all;
  for (const WorldGesture& g : worldGestures())
    all.push_back({QCoreApplication::translate("dune::window::WorldView", g.what),
                   QCoreApplication::translate("dune::window::WorldView", "World"),
                   QCoreApplication::translate("dune::window::WorldView", g.how),
                   {}});
  return all;
}

}  // namespace dune::window
