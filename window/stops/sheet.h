#pragma once
// What the sheets of the stops share: a title, a column of sections, and the ways they speak to the window.

#include <QDoubleSpinBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

#include "window/scene/tool.h"
#include "window/session/workspace.h"

namespace dune::window {

/// A number with its name and unit: typed, or dragged by its name.
class NumberField : public QWidget {
  Q_OBJECT

 public:
  NumberField(const QString& name, const QString& unit, double least, double most, double step, int decimals, QWidget* parent = nullptr);
  void setValue(double value);
  double value() const { return spin_->value(); }
  QDoubleSpinBox* spin() const { return spin_; }

 signals:
  void edited(double value);
  void finished();

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  QLabel* label_;
  QDoubleSpinBox* spin_;
  double dragFrom_ = 0, valueFrom_ = 0;
};

class Sheet : public QWidget {
  Q_OBJECT

 public:
  Sheet(const QString& title, Workspace& workspace);
  /// Shows what the document and the results say now.
  virtual void refresh() = 0;
  /// The tool that the left mouse button has at this stop; may be null.
  virtual Tool* tool() { return nullptr; }
  /// A page that is not open asks for no room, so that a long one does not make the others scroll.
  QSize minimumSizeHint() const override { return isHidden() ? QSize(0, 0) : QWidget::minimumSizeHint(); }
  QSize sizeHint() const override { return isHidden() ? QSize(0, 0) : QWidget::sizeHint(); }
  int heightForWidth(int width) const override { return isHidden() ? 0 : layout()->minimumHeightForWidth(width); }
  /// Leaves the tool in use; the stop goes on without one.
  virtual void leaveTool() {}

 signals:
  void toolChanged();
  void worldChanged();  ///< what this sheet shows in the world is different now
  void showPlace(const dune::Vec3& place);
  void showBox(const dune::Box3& box);

 protected:
  QLabel* section(const QString& text);
  QLabel* quiet(const QString& text);
  NumberField* number(const QString& name, const QString& unit, double least, double most, double step, int decimals);
  QWidget* row(std::initializer_list<QWidget*> widgets);
  QPushButton* button(const QString& text, const QString& tip, bool checkable = false);

  Workspace& workspace_;
  QVBoxLayout* column_;
};

}  // namespace dune::window
