#pragma once
// The texts over the world.

#include <QPixmap>
#include <QWidget>
#include <map>
#include <tuple>
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
  void drawLabels(QPainter& painter, Side side);
  struct DrawnName {
    QPixmap picture;
    QRect box;  // of the text that begins at the origin, with what surrounds it
  };
  const DrawnName& drawn(const WorldLabel& label, const QFont& font);
  void drawName(QPainter& painter, const WorldLabel& label, const QPointF& at, const QRectF& world, std::vector<QRectF>& taken);

  WorldView& view_;
  std::map<std::tuple<QString, QRgb, QRgb, QString, qreal>, DrawnName> names_;  // by text, colours, font and pixels a point
};

}  // namespace dune::window
