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
  /// Draws the body at a height over the place, and says whether it fits there.
  std::optional<QString> pointAt(const Pointer& pointer, bool holding) override;
  void showFinding(const review::Finding& finding) override;

 private:
  FlightStop(Workspace& workspace, WorldView& view, FlightSheet* sheet);
  void drawVolume(const project::FlightVolume& volume, DrawList& list, DrawList& sides, std::vector<WorldLabel>& labels);
  void drawCells(const std::shared_ptr<const pipeline::Air>& air);
  void drawBodies(bool here);

  FlightSheet& own_;
  Layer way_, airs_, cells_, bodies_, ahead_, cursor_;
  bool here_ = false;
  std::shared_ptr<const pipeline::Air> cut_;  // what the cells that are drawn, or are on their way, were cut from, and where
  double cutAt_ = 0;
  LatestQuestion cutting_;  // of cells: of a large space it takes longer than a picture
};

}  // namespace dune::window
