#pragma once
// The Crowd stop: draws the groups, and the bodies of the last run.

#include "window/stops/trail_stop.h"

namespace dune::window {

class CrowdSheet;

class CrowdStop : public TrailStop {
  Q_OBJECT

 public:
  CrowdStop(Workspace& workspace, WorldView& view);
  QString name() const override { return tr("Crowd"); }
  StopState state() const override;
  Sheet* sheet() override;
  void draw(const Shown& shown, Topics changed) override;
  Backdrop backdrop() const override { return {.links = true, .bodies = true}; }

 private:
  CrowdSheet* sheet_;
  Layer groups_, bodies_;
};

}  // namespace dune::window
