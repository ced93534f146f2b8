#pragma once
// The Links stop: ways that are not ground, drawn from foot to landing.

#include <QCheckBox>
#include <QComboBox>
#include <QListWidget>

#include "window/stops/sheet.h"

namespace dune::window {

class LinksSheet : public Sheet {
  Q_OBJECT

 public:
  explicit LinksSheet(Workspace& workspace);
  void refresh() override;
  Tool* tool() override;
  void leaveTool() override { draw_->setChecked(false); }
  int chosenLink() const;
  /// Adds a link of the kind and direction that are set; called by the tool.
  void addLink(const Vec3& from, const Vec3& to);
  nav::LinkKind kind() const { return static_cast<nav::LinkKind>(kind_->currentIndex()); }

 private:
  void editChosen(const QString& label, const std::function<void(links::HandLink&)>& change, const QString& key = {});
  void showChosen();

  QPushButton *draw_, *turn_, *remove_, *show_;
  QComboBox* kind_;
  QCheckBox* bothWays_;
  QListWidget* list_;
  NumberField* cost_;
  QLabel* why_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
