#pragma once
// The page of the Level stop about where ground may be: playable bounds, seeds, and the joining distance.

#include <QListWidget>

#include "window/stops/sheet.h"

namespace dune::window {

class BoundsPage : public Sheet {
  Q_OBJECT

 public:
  explicit BoundsPage(Workspace& workspace);
  ~BoundsPage() override;
  void refresh() override;
  Tool* tool() override;
  void leaveTool() override;

  bool seeding() const { return seed_->isChecked(); }
  int chosenSeed() const { return seeds_->currentRow(); }
  void addSeed(const Vec3& at);
  void setBounds(const std::optional<Box3>& bounds, const QString& label, const QString& mergeKey = {});
  void removeSeed();

 private:
  NumberField* join_;
  QPushButton *set_, *unset_, *seed_, *removeSeed_;
  QLabel* size_;
  QListWidget* seeds_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
