#pragma once
// The Crowd stop: groups that walk from here to there, and the run.

#include <QListWidget>
#include <QSpinBox>

#include "window/stops/sheet.h"

namespace dune::window {

class CrowdSheet : public Sheet {
  Q_OBJECT

 public:
  explicit CrowdSheet(Workspace& workspace);
  void refresh() override;
  Tool* tool() override { return draw_->isChecked() ? tool_.get() : nullptr; }
  void leaveTool() override { draw_->setChecked(false); }
  void addGroup(const Vec3& start, const Vec3& goal);

 private:
  int chosen() const { return list_->currentItem() ? list_->currentItem()->data(Qt::UserRole).toInt() : -1; }
  void editChosen(const QString& label, const std::function<void(project::CrowdGroup&)>& change, const QString& key);
  void showChosen();

  QPushButton *draw_, *run_, *remove_;
  QListWidget* list_;
  NumberField *count_, *radius_, *seconds_;
  QLabel* state_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
