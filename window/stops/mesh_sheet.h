#pragma once
// The Mesh stop: build and judge the walkable ground.

#include <QCheckBox>

#include "window/stops/sheet.h"

namespace dune::window {

class MeshSheet : public Sheet {
  Q_OBJECT

 public:
  explicit MeshSheet(Workspace& workspace);
  void refresh() override;

 signals:
  void exportAsked();

 private:
  QPushButton *build_, *cancel_, *export_;
  QCheckBox* always_;
  QLabel *state_, *numbers_;
};

}  // namespace dune::window
