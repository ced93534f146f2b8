#pragma once
// The Links stop: draws off-mesh links, here and for the stops after it.

#include "window/stops/trail_stop.h"

namespace dune::window {

class LinksStop : public TrailStop {
  Q_OBJECT

 public:
  LinksStop(Workspace& workspace, WorldView& view);
  StopState state() const override;
  void draw(const Shown& shown, Topics changed) override;
  Backdrop backdrop() const override { return {.links = true}; }
  bool looksAt(review::Part part) const override { return part == review::Part::links; }

 private:
  Layer links_;
};

}  // namespace dune::window
