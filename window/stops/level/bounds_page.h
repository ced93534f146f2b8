#pragma once
// The page of the Level stop about where ground may be: playable bounds, seeds, and the joining distance.

#include <QLineEdit>

#include "window/stops/sheet.h"

namespace dune::window {

class BoundsPage : public Sheet {
  Q_OBJECT

 public:
  explicit BoundsPage(Workspace& workspace);
  ~BoundsPage() override;
  void refresh(Topics changed) override;
  Tool* tool() override;
  std::vector<ThingKind> removable() const override { return {ThingKind::seed, ThingKind::place}; }
  void leaveTool() override;

  /// The name of the chosen place gets the keys.
  void typeName();
  bool seeding() const { return seed_->isChecked(); }

 private:
  void moveSide(int side, double to);
  void addIslands();
  void addPlaces();
  void refreshPlaces();

  NumberField *join_, *leastArea_, *leastWidth_, *sideFields_[6];  // of the bounds, each axis from and to
  QPushButton *set_, *unset_, *seed_, *removeSeed_;
  QLabel* size_;
  ItemList *seeds_, *places_;
  QLineEdit* name_;
  QPushButton* removePlace_;
  std::unique_ptr<Tool> sides_, seeder_;
};

}  // namespace dune::window
