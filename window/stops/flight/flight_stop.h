#pragma once
// The Flight stop: kinds of agent that fly, where they may, ways through the air, and how they are flown.

#include "window/session/latest_question.h"
#include "window/stops/trail_stop.h"

namespace dune::window {

class FlightSheet;

class FlightStop : public TrailStop {
  Q_OBJECT

 public:
  FlightStop(Workspace& workspace, WorldView& view);
  StopState state() const override;
  Backdrop backdrop() const override { return {.ground = false}; }
  bool looksAt(review::Part part) const override { return part == review::Part::flight; }
  void draw(const Shown& shown, Topics changed) override;

 private:
  FlightStop(Workspace& workspace, WorldView& view, FlightSheet* sheet);
  void drawCells(const std::shared_ptr<const pipeline::Air>& air);
  void drawBodies(bool here);

  FlightSheet& own_;
  Layer way_, cells_, bodies_, ahead_;
  bool here_ = false;
  LatestQuestion cutting_;  // of cells: of a large space it takes longer than a picture
};

}  // namespace dune::window
