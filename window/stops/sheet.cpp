#include "window/stops/sheet.h"

namespace dune::window {

Sheet::Sheet(const QString& title, Workspace& workspace) : workspace_(workspace) {
  column_ = new QVBoxLayout(this);
  // A page within a sheet has no title, and the sheet's margins.
  column_->setContentsMargins(title.isEmpty() ? QMargins(0, 8, 0, 0) : QMargins(14, 10, 14, 10));
  column_->setSpacing(7);
  if (title.isEmpty()) return;
  auto* heading = new QLabel(title);
  heading->setObjectName(QStringLiteral("title"));
  column_->addWidget(heading);
}

QLabel* Sheet::section(const QString& text) {
  auto* label = new QLabel(text);
  label->setObjectName(QStringLiteral("section"));
  column_->addWidget(label);
  return label;
}

QLabel* Sheet::quiet(const QString& text) {
  auto* label = new QLabel(text);
  label->setObjectName(QStringLiteral("quiet"));
  label->setWordWrap(true);
  column_->addWidget(label);
  return label;
}

QLabel* Sheet::trouble() {
  QLabel* label = quiet({});
  label->setObjectName(QStringLiteral("trouble"));
  return label;
}

NumberField* Sheet::number(const QString& name, const QString& unit, double least, double most, double step, int decimals) {
  auto* field = new NumberField(name, unit, least, most, step, decimals);
  column_->addWidget(field);
  connect(field, &NumberField::finished, this, [this] { workspace_.document().endMerge(); });
  return field;
}

QWidget* Sheet::row(std::initializer_list<QWidget*> widgets) {
  auto* holder = new QWidget;
  auto* layout = new QHBoxLayout(holder);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(6);
  for (QWidget* w : widgets) layout->addWidget(w);
  column_->addWidget(holder);
  return holder;
}

QPushButton* Sheet::button(const QString& text, const QString& tip, bool checkable) {
  auto* b = new QPushButton(text);
  b->setToolTip(tip);
  b->setCheckable(checkable);
  b->setAccessibleName(text);
  b->setFocusPolicy(Qt::TabFocus);  // a click leaves the keys where they were: Space plays what Run has made
  return b;
}

ItemList* Sheet::list(const QString& name, ThingKind kind) {
  auto* list = new ItemList(name, workspace_.selection(), kind);
  list->fitRows();
  column_->addWidget(list);
  return list;
}

}  // namespace dune::window
