#pragma once
// The page of the Mesh stop about trying: who still gets from here to there, and one limit over a range.

#include <QComboBox>

#include "window/stops/sheet.h"

class QCustomPlot;

namespace dune::window {

class TryPage : public Sheet {
  Q_OBJECT

 public:
  explicit TryPage(Workspace& workspace);
  ~TryPage() override;
  Topics concerns() const override { return Sheet::concerns() | Topic::trials; }
  void refresh(Topics changed) override;
  ItemList* thresholds() const { return thresholds_; }
  Tool* tool() override;
  void leaveTool() override;
  QCustomPlot* plot() const { return plot_; }

 private:
  void addPassing();
  void addSweep();
  void limitChanged();
  void refreshPassing();
  void refreshSweep();
  void setLimit(double value);

  QPushButton *between_, *start_, *cancel_, *showWhere_;
  QLabel *progress_, *old_, *passing_, *measure_;
  ItemList* thresholds_;
  QComboBox* limit_;
  NumberField *from_, *to_;
  std::pair<int, int> rangeFor_;  // the project and the agent that the range was set for
  QCustomPlot* plot_;
  std::unique_ptr<Tool> tool_;
};

}  // namespace dune::window
