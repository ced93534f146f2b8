#pragma once
// The Agents stop: draws the agent to scale beside a person, and the ground of another kind over this one's.

#include "window/stops/trail_stop.h"

namespace dune::window {

class AgentsSheet;

class AgentsStop : public TrailStop {
  Q_OBJECT

 public:
  AgentsStop(Workspace& workspace, WorldView& view);
  StopState state() const override;
  Backdrop backdrop() const override { return {.figures = true}; }
  void draw(const Shown& shown, Topics changed) override;
  void addToMenu(QMenu& menu, const Pointer& p) override;

 private:
  AgentsStop(Workspace& workspace, WorldView& view, AgentsSheet* sheet);
  void drawFigures();
  void drawComparison(bool here);

  AgentsSheet& own_;
  Layer figures_, other_, difference_;
  bool figuresShown_ = false;
};

}  // namespace dune::window
