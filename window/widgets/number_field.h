#pragma once
// A number with its name and unit.

#include <QDoubleSpinBox>
#include <QLabel>
#include <QWidget>

namespace dune::window {

/// A number with its name and unit: typed, or dragged by its name.
class NumberField : public QWidget {
  Q_OBJECT

 public:
  NumberField(const QString& name, const QString& unit, double least, double most, double step, int decimals, QWidget* parent = nullptr);
  /// Leaves a number alone that is being typed.
  void setValue(double value);
  /// Takes the place of what was typed, too.
  void restore(double value);
  double value() const { return spin_->value(); }
  QDoubleSpinBox* spin() const { return spin_; }

 signals:
  void edited(double value);
  void finished();

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  QLabel* label_;
  class Box;
  QDoubleSpinBox* spin_;
  double dragFrom_ = 0, valueFrom_ = 0;
};

}  // namespace dune::window
