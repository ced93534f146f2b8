#pragma once
// The Mesh stop: draws the ground, what a build changed in it, and the cards.

#include "window/scene/near_layer.h"
#include "window/stops/trail_stop.h"

namespace dune::window {

class MeshSheet;

class MeshStop : public TrailStop {
  Q_OBJECT

 public:
  MeshStop(Workspace& workspace, WorldView& view);
  StopState state() const override;
  void draw(const Shown& shown, Topics changed) override;
  void addToMenu(QMenu& menu, const Pointer& p) override;
  bool looksAt(review::Part part) const override { return part == review::Part::mesh; }

 private:
  MeshStop(Workspace& workspace, WorldView& view, MeshSheet* sheet);
  void drawGround(bool shown, bool costs);
  void drawDetail();
  void drawChange(bool wanted);
  void drawCards(bool here);
  void drawByHand(bool here);

  WorldView& view_;
  MeshSheet& own_;
  Layer ground_, change_, cards_, byHand_;
  NearLayer detail_;
  /// What the ground was last drawn from; it is large, and most changes do not touch it.
  struct Drawn {
    std::shared_ptr<const pipeline::Ground> ground;
    bool fresh = false, dark = false, costs = false;
    bool operator==(const Drawn&) const = default;
  };
  Drawn drawn_;
};

}  // namespace dune::window
