#pragma once
// The Crowd stop: groups that walk from here to there, and the run.

#include <QSpinBox>

#include "window/stops/sheet.h"

namespace dune::window {

class CrowdSheet : public Sheet {
  Q_OBJECT

 public:
  explicit CrowdSheet(Workspace& workspace);
  Topics concerns() const override { return Sheet::concerns() | Topic::work; }
  void refresh(Topics changed) override;
  Tool* tool() override { return draw_->isChecked() ? tool_.get() : ends_.get(); }
  std::vector<ThingKind> removable() const override { return {ThingKind::group}; }
  void leaveTool() override { draw_->setChecked(false); }

 private:
  void editChosen(const QString& label, const std::function<void(project::CrowdGroup&)>& change, const QString& key = {});
  void showChosen();
  void showState(int agents);

  QPushButton *draw_, *run_, *remove_;
  ItemList* list_;
  NumberField *count_, *radius_, *seconds_;
  QLabel* state_;
  std::unique_ptr<Tool> tool_, ends_;
};

}  // namespace dune::window
