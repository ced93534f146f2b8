#pragma once
// The page of the Crowd stop about things that move among the bodies along a track.

#include <QComboBox>

#include "window/stops/sheet.h"

namespace dune::window {

class ObstaclesPage : public Sheet {
  Q_OBJECT

 public:
  explicit ObstaclesPage(Workspace& workspace);
  void refresh(Topics changed) override;
  Tool* tool() override { return draw_->isChecked() ? draws_.get() : moves_.get(); }
  std::vector<ThingKind> removable() const override { return {ThingKind::obstacle}; }
  void leaveTool() override { draw_->setChecked(false); }

 private:
  using Change = std::function<void(project::CrowdObstacle&)>;
  void addFields();
  NumberField* field(const QString& name, const QString& unit, double least, double most, double step, int decimals,
                     std::function<double&(project::CrowdObstacle&)> of);
  void editChosen(const QString& label, const Change& change, const QString& key = {});

  struct Bound {
    NumberField* field;
    std::function<double&(project::CrowdObstacle&)> of;
  };
  QPushButton *draw_, *remove_;
  ItemList* list_;
  QComboBox* shape_;
  std::vector<Bound> fields_;
  std::unique_ptr<Tool> draws_, moves_;
};

}  // namespace dune::window
