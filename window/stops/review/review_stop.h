#pragma once
// The Review stop: draws the way of the agent that is followed, and what all wanted.

#include "window/stops/trail_stop.h"

namespace dune::window {

class ReviewSheet;

class ReviewStop : public TrailStop {
  Q_OBJECT

 public:
  ReviewStop(Workspace& workspace, WorldView& view);
  StopState state() const override;
  void draw(const Shown& shown, Topics changed) override;
  Backdrop backdrop() const override { return {.links = true, .bodies = true}; }
  bool looksAt(review::Part part) const override { return part == review::Part::movement; }
  void showFinding(const review::Finding& finding) override;

 private:
  ReviewStop(Workspace& workspace, WorldView& view, ReviewSheet* sheet);
  ReviewSheet& own_;
  Layer followed_;
};

}  // namespace dune::window
