#pragma once
// The wheel belongs to the sheet: over a number, a choice or a slider that has not the focus it scrolls what they lie in.

#include <QObject>

namespace dune::window {

class WheelPrecedence : public QObject {
  Q_OBJECT

 public:
  using QObject::QObject;

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
};

}  // namespace dune::window
