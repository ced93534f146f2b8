#pragma once
// The Crowd stop: which scene walks and for how long, and in pages who walks, how they steer, what moves among them, and two runs compared.

#include <QComboBox>

#include "window/stops/crowd/compare_page.h"
#include "window/stops/crowd/groups_page.h"
#include "window/stops/crowd/obstacles_page.h"
#include "window/stops/crowd/steering_page.h"
#include "window/stops/paged_sheet.h"

namespace dune::window {

class CrowdSheet : public PagedSheet {
  Q_OBJECT

 public:
  explicit CrowdSheet(Workspace& workspace);
  Topics concerns() const override { return PagedSheet::concerns() | Topic::work; }
  void refresh(Topics changed) override;

  enum class Page { groups, steering, obstacles, compare };
  void show(Page page) { pages()->setCurrentIndex(static_cast<int>(page)); }

 private:
  void addHead();
  void fillScenes();
  void showState(int agents);

  QPushButton* run_;
  QComboBox* scenes_;
  NumberField* seconds_;
  QLabel* state_;
};

}  // namespace dune::window
