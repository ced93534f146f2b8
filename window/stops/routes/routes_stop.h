#pragma once
// The Routes stop: draws the path that was asked for.

#include "window/stops/trail_stop.h"

namespace dune::window {

class RoutesSheet;

class RoutesStop : public TrailStop {
  Q_OBJECT

 public:
  RoutesStop(Workspace& workspace, WorldView& view);
  StopState state() const override;
  bool looksAt(review::Part part) const override { return part == review::Part::routes; }
  void draw(const Shown& shown, Topics changed) override;
  Backdrop backdrop() const override { return {.links = true}; }

 private:
  RoutesStop(Workspace& workspace, WorldView& view, RoutesSheet* sheet);
  RoutesSheet& own_;
  Layer route_;
};

}  // namespace dune::window
