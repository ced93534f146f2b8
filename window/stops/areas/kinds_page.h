#pragma once
// Kinds of ground with their costs, and the volumes that give ground a kind.

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>

#include "window/stops/sheet.h"

namespace dune::window {

class KindsPage : public Sheet {
  Q_OBJECT

 public:
  explicit KindsPage(Workspace& workspace);
  void refresh(Topics changed) override;
  Tool* tool() override;
  std::vector<ThingKind> removable() const override { return {ThingKind::volume}; }
  void leaveTool() override;

 private:
  void editKind(const QString& label, const std::function<void(level::AreaKind&)>& change, const QString& key);
  void rename(const std::string& name);
  void addKind();
  void addVolume(const Polygon& outline, double ground);
  void showKind();
  void addDrawing();
  void addVolumeFields();
  void showVolume();
  void editVolume(const QString& label, const std::function<void(level::AreaVolume&)>& change, const QString& key = {});
  void reorder(bool later);
  void tag(const QString& words);
  static ItemRow rowOf(const level::AreaVolume& volume, const std::vector<level::AreaKind>& kinds);

  ItemList *kinds_, *volumes_;
  QLineEdit *name_, *volumeName_, *tags_;
  QLabel* tooMany_;
  int shown_ = 0;  ///< id of the volume
  QComboBox* volumeKind_;
  QWidget *volumeRow_, *orderRow_;
  NumberField *bottom_, *top_;
  QPushButton *later_, *earlier_;
  NumberField *cost_, *entry_;
  QCheckBox* forbidden_;
  QPushButton *colour_, *removeKind_, *box_, *round_, *outline_, *removeVolume_;
  std::unique_ptr<Tool> boxTool_, roundTool_, outlineTool_, handles_;
};

}  // namespace dune::window
