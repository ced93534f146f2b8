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
  QString name() const override { return tr("Mesh"); }
  StopState state() const override;
  Sheet* sheet() override;
  void draw(const Shown& shown, Topics changed) override;
  void addToMenu(QMenu& menu, const Pointer& p) override;
  bool looksAt(review::Part part) const override { return part == review::Part::mesh; }

 private:
  void drawGround(bool shown);
  void drawDetail(bool shown);
  void drawChange(bool here);
  void drawCards(bool here);

  WorldView& view_;
  MeshSheet* sheet_;
  Layer ground_, change_, cards_;
  NearLayer detail_;
};

}  // namespace dune::window
