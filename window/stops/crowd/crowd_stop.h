#pragma once
// The Crowd stop: draws the groups and what moves among them, the bodies of the last run, of a second one beside it, and what the followed
// body decides from.

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
  struct World {
    World(WorldView& view, Side side) : bodies(view, LayerOrder::moving, side), insight(view, LayerOrder::cursor, side) {}
    Layer bodies, insight;
  };
  void drawGroups(bool here);
  void drawWorld(World& world, const std::shared_ptr<const pipeline::Run>& run, bool other);
  void nameSides(bool shown);

  WorldView& view_;
  Layer groups_, tracks_, obstacles_;
  World a_, b_;
};

}  // namespace dune::window
