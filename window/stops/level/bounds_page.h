#pragma once
// The page of the Level stop about where ground may be: playable bounds, seeds, and the joining distance.

#include "window/stops/sheet.h"

namespace dune::window {

class BoundsPage : public Sheet {
  Q_OBJECT

 public:
  explicit BoundsPage(Workspace& workspace);
  ~BoundsPage() override;
  void refresh(Topics changed) override;
  Tool* tool() override;
  std::vector<ThingKind> removable() const override { return {ThingKind::seed}; }
  void leaveTool() override;

  bool seeding() const { return seed_->isChecked(); }

 private:
  void moveSide(int side, double to);

  NumberField *join_, *sideFields_[6];  // of the bounds, each axis from and to
  QPushButton *set_, *unset_, *seed_, *removeSeed_;
  QLabel* size_;
  ItemList* seeds_;
  std::unique_ptr<Tool> sides_, seeder_;
};

}  // namespace dune::window
