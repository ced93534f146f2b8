#pragma once
// The page of the Mesh stop about building and what a build changed.

#include <QCheckBox>
#include <QComboBox>

#include "window/stops/sheet.h"

namespace dune::window {

class BuildPage : public Sheet {
  Q_OBJECT

 public:
  explicit BuildPage(Workspace& workspace);
  ~BuildPage() override;
  Topics concerns() const override { return Sheet::concerns() | Topic::work; }
  void refresh(Topics changed) override;
  Tool* tool() override;
  bool showsChange() const { return showChange_->isChecked(); }
  ItemList* places() const { return places_; }
  QComboBox* scope() const { return scope_; }

 private:
  void addBuild();
  void addGiven();
  void addChange();
  void refreshState();
  void refreshGiven();
  void changeGiven(const QString& label, const std::function<void(project::GivenMesh&)>& change);
  void refreshChange();

  QPushButton *build_, *cancel_, *export_, *keep_, *forget_, *fromLevel_;
  NumberField* unit_;
  QCheckBox *always_, *showChange_, *zUp_;
  QLabel *givenTitle_, *given_, *state_, *numbers_, *changeTitle_, *change_;
  ItemList* places_;
  QComboBox* scope_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
