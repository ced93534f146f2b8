#pragma once
// Keys that mean something in the whole window mean what they always do in the control that has the focus: Space presses a button, Home
// goes to the begin of a list. The wheel belongs to the sheet: over a number or a choice that has not the focus it scrolls what they
// lie in.

#include <QObject>

namespace dune::window {

class InputPrecedence : public QObject {
  Q_OBJECT

 public:
  using QObject::QObject;

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;
};

}  // namespace dune::window
