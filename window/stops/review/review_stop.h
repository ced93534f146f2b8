#pragma once
// The Review stop: draws the way of the agent that is followed, and what all wanted.

#include "window/stops/trail_stop.h"

namespace dune::window {

class ReviewSheet;

class ReviewStop : public TrailStop {
  Q_OBJECT

 public:
  ReviewStop(Workspace& workspace, WorldView& view);
  QString name() const override { return tr("Review"); }
  StopState state() const override;
  Sheet* sheet() override;
  void draw(const Shown& shown, Topics changed) override;
  Backdrop backdrop() const override { return {.links = true, .bodies = true}; }
  bool looksAt(review::Part part) const override { return part == review::Part::movement; }
  void showFinding(const review::Finding& finding) override;

 private:
  ReviewSheet* sheet_;
  Layer followed_;
};

}  // namespace dune::window
