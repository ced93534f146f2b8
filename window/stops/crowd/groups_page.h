#pragma once
// The page of the Crowd stop about groups: who walks, where they begin and where they go.

#include <QComboBox>

#include "window/stops/sheet.h"

namespace dune::window {

class GroupsPage : public Sheet {
  Q_OBJECT

 public:
  explicit GroupsPage(Workspace& workspace);
  void refresh(Topics changed) override;
  Tool* tool() override;
  std::vector<ThingKind> removable() const override { return {ThingKind::group}; }
  void leaveTool() override;

 private:
  using Change = std::function<void(project::CrowdGroup&)>;
  void addButtons();
  void addNumbers();
  void addStart();
  void addGoal();
  void makeTools();
  NumberField* groupNumber(const QString& name, const QString& unit, double least, double most, double step, int decimals,
                           const QString& key, std::function<void(project::CrowdGroup&, double)> set);
  QComboBox* choice(const QString& name, const QStringList& items);
  void editChosen(const QString& label, const Change& change, const QString& key = {});
  void fillList();
  void showChosen();
  void fillObjects();
  void showGoal(const project::CrowdGroup& group);

  QPushButton *draw_, *add_, *remove_;
  ItemList* list_;
  QWidget* fields_;
  NumberField *count_, *radius_, *speed_, *priority_, *every_, *startRadius_, *around_;
  QComboBox *kind_, *startForm_, *goalKind_, *object_, *quarry_;
  QPushButton* place_;  // another place of a round
  std::shared_ptr<const level::Level> objectsOf_;
  int ready_ = -1;  // a scene that the next click adds
  std::unique_ptr<Tool> draws_, ends_, puts_, places_;
};

}  // namespace dune::window
