#pragma once
// The agent from the side, to scale, with its limits as handles to drag.

#include <QWidget>

#include "core/nav/agent.h"

class QPainter;

namespace dune::window {

class AgentDrawing : public QWidget {
  Q_OBJECT

 public:
  enum class Handle { none, radius, height, crouch, slope, step, jump, drop };

  explicit AgentDrawing(QWidget* parent = nullptr);
  void setAgent(const nav::Agent& agent);
  QSize sizeHint() const override { return {250, 250}; }
  /// Where a handle is, in pixels.
  QPointF handleAt(Handle handle) const;

 signals:
  void dragged(const dune::nav::Agent& agent);
  void dropped();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;

 private:
  /// How metres become pixels.
  struct Frame {
    double scale = 1;  // pixels a metre
    double unit = 1;   // metres of what has no size of its own, so that small and large agents look alike
    QPointF feet;
  };
  Frame frame() const;
  QPointF place(double x, double y) const;  // metres from the feet to pixels
  Handle handleNear(const QPointF& pixel) const;
  void drawGround(QPainter& painter) const;
  void drawBody(QPainter& painter) const;
  void drawHandles(QPainter& painter) const;

  nav::Agent agent_;
  Handle held_ = Handle::none, over_ = Handle::none;
  Frame heldFrame_;  // the picture stays still while a handle is held
};

}  // namespace dune::window
