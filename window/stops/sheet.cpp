#include "window/stops/sheet.h"

#include <QMouseEvent>

namespace dune::window {

NumberField::NumberField(const QString& name, const QString& unit, double least, double most, double step, int decimals, QWidget* parent)
    : QWidget(parent) {
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  label_ = new QLabel(name);
  label_->setCursor(Qt::SizeHorCursor);
  label_->setToolTip(tr("Drag to change"));
  label_->installEventFilter(this);
  spin_ = new QDoubleSpinBox;
  spin_->setRange(least, most);
  spin_->setSingleStep(step);
  spin_->setDecimals(decimals);
  spin_->setSuffix(unit.isEmpty() ? QString() : QStringLiteral(" ") + unit);
  spin_->setKeyboardTracking(false);
  spin_->setAccessibleName(name);
  spin_->setFixedWidth(112);
  label_->setBuddy(spin_);
  layout->addWidget(label_, 1);
  layout->addWidget(spin_);
  connect(spin_, &QDoubleSpinBox::valueChanged, this, &NumberField::edited);
  connect(spin_, &QDoubleSpinBox::editingFinished, this, &NumberField::finished);
}

void NumberField::setValue(double value) {
  const QSignalBlocker blocker(spin_);
  spin_->setValue(value);
}

bool NumberField::eventFilter(QObject* watched, QEvent* event) {
  if (watched != label_) return QWidget::eventFilter(watched, event);
  const auto* mouse = dynamic_cast<QMouseEvent*>(event);
  if (!mouse) return false;
  if (event->type() == QEvent::MouseButtonPress)
    dragFrom_ = mouse->globalPosition().x(), valueFrom_ = spin_->value();
  else if (event->type() == QEvent::MouseMove && mouse->buttons() & Qt::LeftButton)
    spin_->setValue(valueFrom_ + std::round((mouse->globalPosition().x() - dragFrom_) / 4) * spin_->singleStep());
  else if (event->type() == QEvent::MouseButtonRelease)
    emit finished();
  return false;
}

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
  return b;
}

}  // namespace dune::window
