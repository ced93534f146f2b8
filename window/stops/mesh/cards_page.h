#pragma once
// The page of the Mesh stop about single places: why there is, or is no, ground. Cards stay and are asked again after each build.

#include "window/stops/sheet.h"

namespace dune::window {

class CardsPage : public Sheet {
  Q_OBJECT

 public:
  explicit CardsPage(Workspace& workspace);
  ~CardsPage() override;
  void refresh(Topics changed) override;
  Tool* tool() override;
  std::vector<ThingKind> removable() const override { return {ThingKind::card}; }
  QLabel* answer() const { return answer_; }

 private:
  void showAnswer();

  ItemList* list_;
  QLabel* answer_;
  QPushButton* remove_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
