#pragma once
// The Agents stop: draws the agent to scale beside a person, and the ground of another kind over this one's.

#include "window/stops/trail_stop.h"

namespace dune::window {

class AgentsSheet;

class AgentsStop : public TrailStop {
  Q_OBJECT

 public:
  AgentsStop(Workspace& workspace, WorldView& view);
  QString name() const override { return tr("Agents"); }
  StopState state() const override;
  Sheet* sheet() override;
  Backdrop backdrop() const override { return {.figures = true}; }
  void draw(const Shown& shown, Topics changed) override;
  void addToMenu(QMenu& menu, const Pointer& p) override;

 private:
  void drawFigures();
  void drawComparison(bool here);

  AgentsSheet* sheet_;
  Layer figures_, other_, difference_;
  bool figuresShown_ = false;
};

}  // namespace dune::window
