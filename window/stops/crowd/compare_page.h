#pragma once
// The page of the Crowd stop that lets the same scene walk a second time, steered in another way, and sets both side by side.

#include <QCheckBox>
#include <QTableWidget>

#include "window/stops/crowd/steering_fields.h"
#include "window/stops/sheet.h"

namespace dune::window {

class ComparePage : public Sheet {
  Q_OBJECT

 public:
  explicit ComparePage(Workspace& workspace);
  void refresh(Topics changed) override;

 private:
  void fillTable();
  QCheckBox* on_;
  SteeringFields* fields_;
  QTableWidget* table_;
  QLabel* hint_;
};

}  // namespace dune::window
