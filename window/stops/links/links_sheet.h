#pragma once
// The Links stop: ways that are not ground, found by the build or drawn from foot to landing.

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
  void addFinding();
  void addDrawing();
  void addChosen();
  void makeTools();
  void editChosen(const QString& label, const std::function<void(links::HandLink&)>& change, const QString& key = {});
  void showChosen();
  void showDrawn(const links::HandLink& link);
  void fillUsers();
  QString usersOf(const links::HandLink& link) const;
  void say(const QString& trouble);
  std::vector<ItemRow> rows() const;
  /// Of the next link that is drawn.
  nav::LinkKind kind() const { return static_cast<nav::LinkKind>(kind_->currentIndex()); }

  QCheckBox *find_, *bothWays_, *chosenBothWays_;
  QPushButton *draw_, *turn_, *show_, *remove_, *keep_, *refuse_, *takeBack_, *users_;
  QComboBox *kind_, *chosenKind_;
  ItemList* list_;
  NumberField *cost_, *perMetre_, *seconds_;
  QLabel *found_, *what_, *trouble_;
  QWidget *drawnRow_, *foundRow_, *refusedRow_, *kindRow_, *usersRow_;
  std::unique_ptr<Tool> tool_, ends_;
};

}  // namespace dune::window
