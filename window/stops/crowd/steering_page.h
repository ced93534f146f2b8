#pragma once
// The page of the Crowd stop about steering: how the chosen group steers, and what the followed agent decides from.

#include <QCheckBox>

#include "window/stops/crowd/steering_fields.h"
#include "window/stops/sheet.h"

namespace dune::window {

class SteeringPage : public Sheet {
  Q_OBJECT

 public:
  explicit SteeringPage(Workspace& workspace, Tool* tool);
  Topics concerns() const override { return Sheet::concerns() | Topic::insight; }
  void refresh(Topics changed) override;
  Tool* tool() override { return tool_; }
  std::vector<ThingKind> removable() const override { return {ThingKind::group}; }

 private:
  void showChosen();
  void showSeen();

  Tool* tool_;  // of the page of groups
  QLabel *who_, *key_;
  SteeringFields* fields_;
  QPushButton* toAll_;
  QCheckBox* seen_;
};

}  // namespace dune::window
