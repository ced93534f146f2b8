#pragma once
// What each kind of ground, and each kind of link, is to each kind of agent: a grid, and the cell that is chosen in it.

#include <QComboBox>
#include <QTableWidget>

#include "window/stops/sheet.h"

namespace dune::window {

class RulesPage : public Sheet {
  Q_OBJECT

 public:
  explicit RulesPage(Workspace& workspace);
  void refresh(Topics changed) override;
  QTableWidget* grid() const { return grid_; }

 private:
  /// What a row of the grid is about.
  bool isLink(int row) const;
  std::size_t kindOf(int row) const { return static_cast<std::size_t>(row); }
  nav::LinkKind linkOf(int row) const;
  const project::AgentKind* agentAt(int column) const;

  void fillGrid();
  void fillCell(int row, int column);
  void fitGrid();
  void showCell();
  void decide(int choice);
  void setRule(const nav::KindRule& rule, const QString& label, const QString& key);
  void change(const QString& label, const QString& key, const std::function<void(project::AreasSection&, int agent)>& edit);

  QTableWidget* grid_;
  QLabel *cell_, *instead_;
  QComboBox* choice_;
  NumberField *cost_, *entry_;
};

}  // namespace dune::window
