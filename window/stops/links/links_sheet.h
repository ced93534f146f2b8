#pragma once
// The Links stop: ways that are not ground, drawn from foot to landing.

#include <QCheckBox>
#include <QComboBox>

#include "window/stops/sheet.h"

namespace dune::window {

class LinksSheet : public Sheet {
  Q_OBJECT

 public:
  explicit LinksSheet(Workspace& workspace);
  void refresh(Topics changed) override;
  Tool* tool() override;
  std::vector<ThingKind> removable() const override { return {ThingKind::link}; }
  void leaveTool() override { draw_->setChecked(false); }

 private:
  void editChosen(const QString& label, const std::function<void(links::HandLink&)>& change, const QString& key = {});
  void showChosen();
  /// Of the next link that is drawn.
  nav::LinkKind kind() const { return static_cast<nav::LinkKind>(kind_->currentIndex()); }

  QPushButton *draw_, *turn_, *remove_, *show_;
  QComboBox* kind_;
  QCheckBox* bothWays_;
  ItemList* list_;
  NumberField* cost_;
  QLabel* why_;
  std::unique_ptr<Tool> tool_, ends_;
};

}  // namespace dune::window
