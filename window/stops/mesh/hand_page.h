#pragma once
// Changes of the ground by hand: what is picked, what can be done with it, and the hand work that there is.

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>

#include "window/scene/from_to_tool.h"
#include "window/scene/outline_tool.h"
#include "window/stops/mesh/pick_tool.h"
#include "window/stops/sheet.h"

namespace dune::window {

class HandPage : public Sheet {
  Q_OBJECT

 public:
  explicit HandPage(Workspace& workspace);
  ~HandPage() override;
  Topics concerns() const override { return Sheet::concerns() | Topic::work; }
  void refresh(Topics changed) override;
  Tool* tool() override;
  void leaveTool() override;
  bool chooseAll() override;
  std::vector<ThingKind> removable() const override { return {ThingKind::face, ThingKind::patch}; }

 private:
  void addPicking();
  void addChanges();
  void addMoving();
  void addWork();
  /// A button that makes a change with what is picked.
  QPushButton* change(const QString& text, const QString& tip, const QString& label, const HandChange& what);
  void setKind(ThingKind kind);
  void say(const std::optional<Problem>& problem);
  /// The ground is there as it is now, and no change of it is on its way.
  bool mayChange() const;
  void refreshTag();
  /// What can be done with what is picked, and how far a change is that is on its way.
  void refreshChanges();
  void refreshWork();
  QString picked(const Picks& picks) const;
  void grow();
  void pickIsland();
  void pickBorder();
  void pickLikeFinding();

  QPushButton *faces_, *edges_, *corners_, *grow_, *island_, *border_, *like_;
  QPushButton *delete_, *join_, *drape_, *paint_, *cut_, *draw_, *halve_, *strip_, *part_, *oneWay_, *unpart_, *fill_, *move_;
  QPushButton *giveUp_, *drapePatch_, *keepPatch_;
  QComboBox* kind_;
  QLineEdit* tag_;
  QPushButton* tagFaces_;
  QCheckBox *follow_, *through_;
  NumberField *east_, *up_, *south_, *grid_;
  QLabel *picked_, *trouble_, *changing_, *parted_;
  QWidget *faceRow_, *cutRow_, *paintRow_, *tagRow_, *edgeRow_, *partRow_, *cornerRow_;
  ItemList* list_;
  std::unique_ptr<PickTool> pick_;
  std::unique_ptr<OutlineTool> outline_;
  std::unique_ptr<FromToTool> line_;
};

}  // namespace dune::window
