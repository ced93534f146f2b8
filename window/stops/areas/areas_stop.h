#pragma once
// The Areas stop: draws the volumes that give ground a kind.

#include "window/stops/trail_stop.h"

namespace dune::window {

class AreasSheet;

class AreasStop : public TrailStop {
  Q_OBJECT

 public:
  AreasStop(Workspace& workspace, WorldView& view);
  QString name() const override { return tr("Areas"); }
  StopState state() const override;
  Sheet* sheet() override;
  void draw(const Shown& shown, Topics changed) override;

 private:
  AreasSheet* sheet_;
  Layer volumes_;
};

}  // namespace dune::window
