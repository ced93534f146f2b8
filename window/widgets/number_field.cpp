#include "window/widgets/number_field.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <cmath>

namespace dune::window {

/// Esc gives up what was typed, before it means anything else.
class NumberField::Box : public QDoubleSpinBox {
 public:
  bool isTyped() const { return hasFocus() && lineEdit()->isModified(); }
  void giveUp() {
    lineEdit()->setText(prefix() + textFromValue(value()) + suffix());
    lineEdit()->setModified(false);
  }

 protected:
  bool event(QEvent* event) override {
    const bool escape = event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape;
    if (!escape || !isTyped()) return QDoubleSpinBox::event(event);
    event->accept();
    return true;
  }
  void keyPressEvent(QKeyEvent* event) override {
    if (event->key() != Qt::Key_Escape || !isTyped()) return QDoubleSpinBox::keyPressEvent(event);
    giveUp();
    selectAll();
  }
};

NumberField::NumberField(const QString& name, const QString& unit, double least, double most, double step, int decimals, QWidget* parent)
    : QWidget(parent) {
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  label_ = new QLabel(name);
  label_->setCursor(Qt::SizeHorCursor);
  label_->installEventFilter(this);
  spin_ = new Box;
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
  if (static_cast<const Box*>(spin_)->isTyped()) return;
  const QSignalBlocker blocker(spin_);
  spin_->setValue(value);
}

void NumberField::restore(double value) {
  const QSignalBlocker blocker(spin_);
  spin_->setValue(value);
  static_cast<Box*>(spin_)->giveUp();
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

}  // namespace dune::window
