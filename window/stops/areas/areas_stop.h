#pragma once
// The Areas stop: draws the volumes that give ground a kind.

#include "window/stops/areas/areas_sheet.h"
#include "window/stops/trail_stop.h"

namespace dune::window {

class AreasStop : public TrailStop {
  Q_OBJECT

 public:
  AreasStop(Workspace& workspace, WorldView& view);
  Backdrop backdrop() const override { return {.costs = own_.showsCosts()}; }
  StopState state() const override;
  void draw(const Shown& shown, Topics changed) override;

 private:
  AreasStop(Workspace& workspace, WorldView& view, AreasSheet* sheet);
  AreasSheet& own_;
  Layer volumes_;
};

}  // namespace dune::window
