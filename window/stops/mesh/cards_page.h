#pragma once
// The page of the Mesh stop about single places: why there is, or is no, ground. Cards stay and are asked again after each build.

#include <QListWidget>

#include "window/stops/sheet.h"

namespace dune::window {

class CardsPage : public Sheet {
  Q_OBJECT

 public:
  explicit CardsPage(Workspace& workspace);
  ~CardsPage() override;
  void refresh() override;
  Tool* tool() override;
  /// The card that is chosen, or -1.
  int chosenCard() const;
  void pin(const Vec3& at);
  void choose(int id);
  void remove();
  QLabel* answer() const { return answer_; }

 private:
  void showAnswer();

  QListWidget* list_;
  QLabel* answer_;
  QPushButton* remove_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
