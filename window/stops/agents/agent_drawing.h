#pragma once
// A small course of obstacles, each at exactly the agent's limit, that it walks from left to right; below it, its footprint between two
// walls. To scale, with the limits as handles to drag.

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
  QSize sizeHint() const override { return {264, 268}; }
  /// Where a handle is, in pixels.
  QPointF handleAt(Handle handle) const;
  double pixelsPerMetre() const { return frame().scale; }

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
    QPointF feet;      // at the start of the course
    double lane = 0;   // down to the middle of the lane that is seen from above
  };
  Frame frame() const;
  QPointF place(double x, double y) const;  // metres from the feet to pixels
  QPointF inLane(double x, double aside) const;
  Handle handleNear(const QPointF& pixel) const;
  nav::Agent with(Handle handle, const QPointF& pixel) const;
  void drawGround(QPainter& painter) const;
  void drawBeams(QPainter& painter) const;
  void drawBody(QPainter& painter, double x, double y, double height, bool solid) const;
  void drawBodies(QPainter& painter) const;
  void drawLane(QPainter& painter) const;
  void drawHandles(QPainter& painter) const;

  nav::Agent agent_;
  Handle held_ = Handle::none, over_ = Handle::none;
  Frame heldFrame_;  // the picture stays still while a handle is held
};

}  // namespace dune::window
