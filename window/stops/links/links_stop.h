#pragma once
// The Links stop: draws off-mesh links, here and for the stops after it.

#include "window/stops/trail_stop.h"

namespace dune::window {

class LinksSheet;

class LinksStop : public TrailStop {
  Q_OBJECT

 public:
  LinksStop(Workspace& workspace, WorldView& view);
  QString name() const override { return tr("Links"); }
  StopState state() const override;
  Sheet* sheet() override;
  void draw(const Shown& shown, Topics changed) override;
  Backdrop backdrop() const override { return {.links = true}; }
  bool looksAt(review::Part part) const override { return part == review::Part::links; }

 private:
  LinksSheet* sheet_;
  Layer links_;
};

}  // namespace dune::window
