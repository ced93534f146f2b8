#pragma once
// The Crowd stop: draws the groups, and the bodies of the last run.

#include "window/stops/trail_stop.h"

namespace dune::window {

class CrowdStop : public TrailStop {
  Q_OBJECT

 public:
  CrowdStop(Workspace& workspace, WorldView& view);
  StopState state() const override;
  void draw(const Shown& shown, Topics changed) override;
  Backdrop backdrop() const override { return {.links = true, .bodies = true}; }

 private:
  Layer groups_, bodies_;
};

}  // namespace dune::window
