#pragma once
// The Areas stop: draws the volumes that give ground a kind.

#include "window/stops/trail_stop.h"

namespace dune::window {

class AreasStop : public TrailStop {
  Q_OBJECT

 public:
  AreasStop(Workspace& workspace, WorldView& view);
  StopState state() const override;
  void draw(const Shown& shown, Topics changed) override;

 private:
  Layer volumes_;
};

}  // namespace dune::window
