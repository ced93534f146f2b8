#include "window/scene/theme.h"

#include <QApplication>
#include <QFile>
#include <QPainter>
#include <QPalette>
#include <QPixmap>
#include <QStyleFactory>
#include <QSvgRenderer>

/// The icons are in a static library; the linker drops what nothing asks for by name. Has to be outside of namespaces.
static void loadIcons() { Q_INIT_RESOURCE(icons); }

namespace dune::window {

namespace {

const Theme kNoon{false,
                  "#F3EEE4",
                  "#FBF8F2",
                  "#2B2622",
                  "#6B6258",
                  "#D5CBBB",
                  "#6A3FA0",
                  "#FFFFFF",
                  "#E4DCCD",
                  "#BDB7AD",
                  "#8E8C96",
                  "#B98A8A",
                  "#E2DED6",
                  "#6A3FA0",
                  QColor(217, 142, 50, 140),
                  "#7A4A12",
                  "#5A2E0C",
                  "#4B2A8C",
                  "#FBF8F2",
                  "#A0226E",
                  "#B3261E",
                  "#0E776A",
                  "#B3261E",
                  "#9A5B00",
                  "#3D5A80",
                  {"#14509A", "#93567C", "#389258", "#90350B", "#836DD5", "#3F2824"}};
const Theme kDusk{true,
                  "#1F1C1A",
                  "#292522",
                  "#EDE6DA",
                  "#B0A698",
                  "#4A443E",
                  "#B594E6",
                  "#1F1C1A",
                  "#171514",
                  "#57524C",
                  "#6A6874",
                  "#7C5757",
                  "#35312D",
                  "#B594E6",
                  QColor(224, 160, 74, 115),
                  "#C98F45",
                  "#F0C27A",
                  "#C9B2FF",
                  "#1A1528",
                  "#F07DB8",
                  "#F2685E",
                  "#4CC9B0",
                  "#F2685E",
                  "#E9B04A",
                  "#8FB4E0",
                  {"#7ED0FF", "#E06EAF", "#A4CDA6", "#FEBD75", "#8C7EDF", "#FFFFFF"}};

const Theme* current = &kNoon;

QString styleSheet(const Theme& t) {
  return QStringLiteral(
             "QWidget { color: %1; }"
             "QMainWindow, QDialog { background: %2; }"
             "#sheet, #ledger, #readout, #reel, #toolStrip { background: %3; }"
             "#readout { border-top: 1px solid %4; padding: 4px 10px; }"
             "QPushButton, QToolButton { background: %2; border: 1px solid %4; border-radius: 4px; padding: 4px 9px; }"
             "QPushButton:hover, QToolButton:hover { border-color: %5; }"
             "QPushButton:checked, QToolButton:checked { background: %5; color: %6; border-color: %5; }"
             "QPushButton:focus, QToolButton:focus { border: 2px solid %5; padding: 3px 8px; }"
             "QPushButton:disabled { color: %7; }"
             "QPushButton#primary { background: %5; color: %6; border-color: %5; font-weight: 600; }"
             "QPushButton#primary:disabled { background: %4; color: %7; border-color: %4; }"
             "QComboBox { combobox-popup: 0; }"  // an open list looks like every list
             "QToolButton#fromAbove { padding: 1px 8px; margin: 2px 0; } QToolButton#fromAbove:focus { padding: 0px 7px; }"
             "QToolButton#card { padding: 8px 4px; background: %3; } QToolButton#card:focus { padding: 7px 3px; }"
             "#tour { background: %3; border: 2px solid %5; border-radius: 6px; }"
             "QLineEdit { background: %2; border: 1px solid %4; border-radius: 4px; padding: 3px 5px; selection-background-color: %5; "
             "selection-color: %6; }"
             "QLineEdit:focus { border-color: %5; }"
             "QListView, QTableView, QTreeView { background: %2; border: 1px solid %4; border-radius: 4px; alternate-background-color: %3; "
             "selection-background-color: %5; selection-color: %6; gridline-color: %4; }"
             "QTreeView::item { padding: 3px 4px; }"
             "QHeaderView::section { background: %3; border: none; border-bottom: 1px solid %4; padding: 3px 6px; color: %7; }"
             "QLabel#title { font-size: 15pt; font-weight: 600; }"
             "QLabel#section { font-weight: 600; padding-top: 6px; }"
             "QLabel#quiet { color: %7; }"
             "QLabel#trouble { color: %8; }"
             "QScrollArea { border: none; background: %3; } QScrollArea > QWidget > QWidget { background: %3; }"
             "QScrollBar:vertical { background: %3; width: 11px; border: none; margin: 0; }"
             "QScrollBar::handle:vertical { background: %4; border: 1px solid %7; border-radius: 4px; min-height: 24px; margin: 1px; }"
             "QScrollBar::handle:vertical:hover { background: %7; }"
             "QScrollBar::add-line:vertical, QScrollBar::sub-line:vertical { height: 0; }"
             "QScrollBar::add-page:vertical, QScrollBar::sub-page:vertical { background: none; }"
             "QMenuBar { background: %3; } QMenuBar::item { padding: 4px 9px; } QMenuBar::item:selected, QMenu::item:selected { "
             "background: %5; color: %6; }"
             "QMenu { background: %3; border: 1px solid %4; } QMenu::item { padding: 4px 22px; } QMenu::item:disabled { color: %7; }"
             "QToolTip { background: %3; color: %1; border: 1px solid %4; }")
      .arg(t.text.name(), t.window.name(), t.panel.name(), t.line.name(), t.accent.name(), t.accentText.name(), t.quiet.name(),
           t.bad.name());
}

}  // namespace

const Theme& theme() { return *current; }

void applyTheme(bool dark) {
  loadIcons();
  current = dark ? &kDusk : &kNoon;
  const Theme& t = *current;
  QPalette palette;
  palette.setColor(QPalette::Window, t.window);
  palette.setColor(QPalette::Base, t.window);
  palette.setColor(QPalette::AlternateBase, t.panel);
  palette.setColor(QPalette::Button, t.panel);
  for (const auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText})
    palette.setColor(role, t.text);
  palette.setColor(QPalette::Highlight, t.accent);
  palette.setColor(QPalette::HighlightedText, t.accentText);
  palette.setColor(QPalette::PlaceholderText, t.quiet);
  palette.setColor(QPalette::Disabled, QPalette::Text, t.quiet);
  QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
  QApplication::setPalette(palette);
  qApp->setStyleSheet(styleSheet(t));
}

QIcon lineIcon(const QString& name) {
  QFile file(QStringLiteral(":/icons/") + name + QStringLiteral(".svg"));
  if (!file.open(QIODevice::ReadOnly)) return {};
  QSvgRenderer renderer(file.readAll().replace("#000000", theme().text.name().toUtf8()));
  QPixmap pixmap(40, 40);
  pixmap.fill(Qt::transparent);
  QPainter painter(&pixmap);
  renderer.render(&painter);
  return QIcon(pixmap);
}

}  // namespace dune::window
