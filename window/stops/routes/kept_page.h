#pragma once
// Kept routes: what is expected of each, and whether it holds.

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>

#include "window/stops/sheet.h"

namespace dune::window {

class KeptPage : public Sheet {
  Q_OBJECT

 public:
  explicit KeptPage(Workspace& workspace);
  void refresh(Topics changed) override;
  std::vector<ThingKind> removable() const override { return {ThingKind::route}; }
  Tool* tool() override { return drawsBox_ ? boxTool_.get() : tool_.get(); }
  void leaveTool() override;

 private:
  using Edit = std::function<void(project::KeptRoute&)>;
  void edit(const QString& label, const Edit& change, const QString& mergeKey = {});
  void addChoices();
  void addLimits();
  void addTouches();
  void fillRows();
  void fillAgents(const project::KeptRoute& route);
  void fillEnd(QComboBox* box, const std::string& name);
  void fillTouches(const project::KeptRoute& route);
  void showState(const project::KeptRoute& route);
  void showFields(const project::KeptRoute& route);
  void showTouchMenu();
  void drawBox(bool must);
  void addBox(const Polygon& outline, double ground);

  QLabel* hint_;
  ItemList* list_;
  QPushButton *remove_, *copy_;
  QWidget* fields_;
  QLabel *state_, *touchList_;
  QLineEdit *name_, *folder_;
  QComboBox *agent_, *from_, *to_, *outcome_;
  struct LimitField {
    std::optional<double> project::Expected::*value;
    QCheckBox* on;
    NumberField* number;
  };
  std::vector<LimitField> limits_;
  QCheckBox* sameWay_;
  QPushButton* touch_;
  std::unique_ptr<Tool> tool_, boxTool_;
  bool drawsBox_ = false, mustTouch_ = false;  // while a box is drawn, and what is expected of it
};

}  // namespace dune::window
