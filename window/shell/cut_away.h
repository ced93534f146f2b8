#pragma once
// The slider beside the world that takes off everything above a height.

#include <QLabel>
#include <QSlider>

#include "core/base/bounds.h"

namespace dune::window {

class CutAway : public QWidget {
  Q_OBJECT

 public:
  CutAway();
  QSlider* slider() const { return slider_; }
  /// Between the lowest and the highest place of a box; `keep`: a cut that was made stays.
  void setRange(const Box3& box, bool keep);
  void setHeight(double y);
  void remove() { slider_->setValue(slider_->maximum()); }

 signals:
  void changed(double height);

 private:
  void tell();

  QSlider* slider_;
  QLabel* label_;
};

}  // namespace dune::window
