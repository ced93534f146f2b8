#pragma once
// The Areas stop: kinds of ground with their costs, and the volumes that give ground a kind.

#include <QCheckBox>
#include <QLineEdit>
#include <QListWidget>

#include "window/stops/sheet.h"

namespace dune::window {

class AreasSheet : public Sheet {
  Q_OBJECT

 public:
  explicit AreasSheet(Workspace& workspace);
  void refresh() override;
  Tool* tool() override;
  void leaveTool() override;
  int chosenVolume() const;
  /// Adds a volume over an outline; called by the tools.
  void addVolume(const Polygon& outline, double ground);

 private:
  void editKind(const QString& label, const std::function<void(level::AreaKind&)>& change, const QString& key);
  int kind() const { return kinds_->currentRow(); }
  void addKind();
  void removeKind();
  void showKind();

  QListWidget *kinds_, *volumes_;
  QLineEdit* name_;
  NumberField *cost_, *entry_;
  QCheckBox* forbidden_;
  QPushButton *colour_, *removeKind_, *box_, *outline_, *removeVolume_;
  std::unique_ptr<Tool> boxTool_, outlineTool_;
};

}  // namespace dune::window
