#pragma once
// The Review stop: draws the way of the agent that is followed, and what all wanted.

#include "core/pipeline/heat.h"
#include "window/session/latest_question.h"
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
  void drawHeat(bool here);
  Layer followed_, heat_;
  /// What the ground was last shaded by.
  struct Shaded {
    std::shared_ptr<const pipeline::Run> run;
    pipeline::Heat heat = pipeline::Heat::none;
    bool dark = false;
    bool operator==(const Shaded&) const = default;
  };
  Shaded shaded_;
  LatestQuestion question_;
};

}  // namespace dune::window
