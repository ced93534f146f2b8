#pragma once
// The guide, as it ships with the program, in a window of its own.

#include <QDialog>

namespace dune::window {

class Guide : public QDialog {
  Q_OBJECT

 public:
  explicit Guide(QWidget* parent);
};

}  // namespace dune::window
