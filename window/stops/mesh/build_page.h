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
  void addChange();
  void refreshState();
  void refreshChange();

  QPushButton *build_, *cancel_, *export_, *keep_, *forget_;
  QCheckBox *always_, *showChange_;
  QLabel *state_, *numbers_, *changeTitle_, *change_;
  ItemList* places_;
  QComboBox* scope_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
