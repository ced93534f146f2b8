#pragma once
// The agent from the side, to scale, with its limits as handles to drag.

#include <QWidget>

#include "core/level/agent.h"

namespace dune::window {

class AgentDrawing : public QWidget {
  Q_OBJECT

 public:
  enum class Handle { none, radius, height, crouch, slope, step };

  explicit AgentDrawing(QWidget* parent = nullptr);
  void setAgent(const level::Agent& agent);
  QSize sizeHint() const override { return {250, 230}; }
  /// Where a handle is, in pixels.
  QPointF handleAt(Handle handle) const;

 signals:
  void dragged(const dune::level::Agent& agent);
  void dropped();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;

 private:
  double scale() const;                     // pixels a metre
  QPointF place(double x, double y) const;  // metres from the feet to pixels
  Handle handleNear(const QPointF& pixel) const;

  level::Agent agent_;
  Handle held_ = Handle::none, over_ = Handle::none;
  double heldScale_ = 0;
};

}  // namespace dune::window
