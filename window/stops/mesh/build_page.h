#pragma once
// The page of the Mesh stop about building and what a build changed.

#include <QCheckBox>
#include <QComboBox>
#include <QListWidget>

#include "window/stops/sheet.h"

namespace dune::window {

class BuildPage : public Sheet {
  Q_OBJECT

 public:
  explicit BuildPage(Workspace& workspace);
  ~BuildPage() override;
  void refresh() override;
  Tool* tool() override;
  /// The place of the change that is chosen, or -1.
  int chosenPlace() const { return places_->currentRow(); }
  bool showsChange() const { return showChange_->isChecked(); }
  QListWidget* places() const { return places_; }
  QComboBox* scope() const { return scope_; }

 signals:
  void exportAsked();

 private:
  void addBuild();
  void addChange();
  void refreshState();
  void refreshChange();

  QPushButton *build_, *cancel_, *export_, *keep_, *forget_;
  QCheckBox *always_, *showChange_;
  QLabel *state_, *numbers_, *changeTitle_, *change_;
  QListWidget* places_;
  QComboBox* scope_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
