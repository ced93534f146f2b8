#pragma once
// The texts over the world.

#include <QWidget>
#include <vector>

#include "window/scene/layer.h"

namespace dune::window {

class WorldView;

/// A widget of its own: text is drawn better without GL, and the mouse goes through it.
class LabelOverlay : public QWidget {
 public:
  explicit LabelOverlay(WorldView* view);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void sayInTheMiddle(QPainter& painter) const;
  void nameSides(QPainter& painter) const;
  void drawLabels(QPainter& painter, Side side) const;

  WorldView& view_;
};

}  // namespace dune::window
