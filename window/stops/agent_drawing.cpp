#include "window/stops/agent_drawing.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include "core/base/vec.h"
#include "window/shell/theme.h"

namespace dune::window {

namespace {
constexpr double kGrab = 12;   // pixels
constexpr double kFloor = 34;  // pixels below the feet
}  // namespace

AgentDrawing::AgentDrawing(QWidget* parent) : QWidget(parent) {
  setMinimumHeight(215);
  setMouseTracking(true);
  setAccessibleName(tr("Agent to scale"));
  setToolTip(tr("Drag the round handles"));
}

void AgentDrawing::setAgent(const level::Agent& agent) {
  agent_ = agent;
  update();
}

double AgentDrawing::scale() const {
  if (held_ != Handle::none) return heldScale_;  // the picture stays still while a handle is held
  const double high = std::max(agent_.height * 1.18, 1.2), wide = std::max({agent_.radius * 2 + agent_.stepHeight * 2 + 2.2, high * 0.9});
  return std::min((height() - kFloor - 16) / high, (width() - 20) / wide);
}

QPointF AgentDrawing::place(double x, double y) const { return {width() * 0.44 + x * scale(), height() - kFloor - y * scale()}; }

QPointF AgentDrawing::handleAt(Handle handle) const {
  const double slope = radians(agent_.maxSlope), reach = 0.9;
  switch (handle) {
    case Handle::radius:
      return place(-agent_.radius, agent_.height * 0.5);
    case Handle::height:
      return place(0, agent_.height);
    case Handle::crouch:
      return place(-agent_.radius * 0.5, agent_.crouchHeight);
    case Handle::step:
      return place(agent_.radius + 0.12, agent_.stepHeight);
    case Handle::slope:
      return place(agent_.radius + 0.45 + reach * std::cos(slope), agent_.stepHeight + reach * std::sin(slope));
    default:
      return {};
  }
}

AgentDrawing::Handle AgentDrawing::handleNear(const QPointF& pixel) const {
  if (agent_.crouches() && QLineF(handleAt(Handle::crouch), pixel).length() < kGrab) return Handle::crouch;
  for (const Handle h : {Handle::step, Handle::slope, Handle::radius, Handle::height})
    if (QLineF(handleAt(h), pixel).length() < kGrab) return h;
  return Handle::none;
}

void AgentDrawing::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Theme& t = theme();
  p.setPen(QPen(t.line, 1));
  p.setBrush(t.window);
  p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
  // The ground: flat, then the highest step, then the steepest slope.
  const double step = agent_.radius + 0.12, top = step + 0.33, slope = radians(agent_.maxSlope), reach = 0.9;
  QPainterPath ground(QPointF(6, place(0, 0).y()));
  ground.lineTo(place(step, 0));
  ground.lineTo(place(step, agent_.stepHeight));
  ground.lineTo(place(top, agent_.stepHeight));
  const QPointF end = place(top + reach * std::cos(slope) + 0.12 * std::cos(slope), agent_.stepHeight + (reach + 0.12) * std::sin(slope));
  ground.lineTo(end);
  QPainterPath earth = ground;
  earth.lineTo(end.x(), height() - 6.0);
  earth.lineTo(6, height() - 6.0);
  QColor sand(t.ground.rgb());
  sand.setAlpha(70);
  p.fillPath(earth, sand);
  p.setPen(QPen(t.faceEdge, 2));
  p.setBrush(Qt::NoBrush);
  p.drawPath(ground);
  // The body.
  const QRectF body(place(-agent_.radius, agent_.height), place(agent_.radius, 0));
  QColor fill = t.agent[0];
  fill.setAlpha(60);
  p.setPen(QPen(t.agent[0], 2));
  p.setBrush(fill);
  const double round = std::min(body.width() / 2, body.height() / 3);
  p.drawRoundedRect(body, round, round);
  p.setPen(QPen(t.quiet, 1, Qt::DashLine));
  p.drawLine(place(0, 0), place(0, agent_.height));
  if (agent_.crouches()) {
    // As low as it gets: the same body, pressed flat.
    const QRectF low(place(-agent_.radius, agent_.crouchHeight), place(agent_.radius, 0));
    p.setPen(QPen(t.agent[0], 1.5, Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(low, std::min(round, low.height() / 2), std::min(round, low.height() / 2));
  }
  // Handles with their numbers.
  QFont small = font();
  small.setPointSizeF(font().pointSizeF() * 0.88);
  p.setFont(small);
  auto handle = [&](Handle h, const QString& text, Qt::Alignment side) {
    const QPointF at = handleAt(h);
    p.setPen(QPen(t.accent, 2));
    p.setBrush(h == held_ || h == over_ ? t.accent : t.panel);
    p.drawEllipse(at, 5, 5);
    p.setPen(t.text);
    QRectF box(at.x() - 88, at.y() - 9, 80, 18);
    if (side & Qt::AlignLeft) box.moveLeft(at.x() + 9);
    if (side & Qt::AlignTop) box = QRectF(at.x() - 60, at.y() - 24, 120, 16), side = Qt::AlignHCenter;
    box.moveLeft(std::clamp(box.left(), 4.0, std::max(4.0, width() - box.width() - 4)));
    p.drawText(box, static_cast<int>(side) | Qt::AlignVCenter, text);
  };
  handle(Handle::radius, tr("radius %1 m").arg(agent_.radius, 0, 'f', 2), Qt::AlignRight);
  handle(Handle::height, tr("%1 m").arg(agent_.height, 0, 'f', 2), Qt::AlignLeft);
  if (agent_.crouches()) handle(Handle::crouch, tr("crouching %1 m").arg(agent_.crouchHeight, 0, 'f', 2), Qt::AlignRight);
  handle(Handle::slope, tr("%1°").arg(agent_.maxSlope, 0, 'f', 0), Qt::AlignTop);
  handle(Handle::step, QString(), Qt::AlignLeft);
  p.setPen(t.text);
  p.drawText(QRectF(place(step, 0).x() - 24, height() - kFloor + 8, 140, 18), Qt::AlignLeft | Qt::AlignVCenter,
             tr("step %1 m").arg(agent_.stepHeight, 0, 'f', 2));
}

void AgentDrawing::mousePressEvent(QMouseEvent* event) {
  heldScale_ = scale();
  held_ = handleNear(event->position());
  update();
}

void AgentDrawing::mouseMoveEvent(QMouseEvent* event) {
  if (held_ == Handle::none) {
    over_ = handleNear(event->position());
    setCursor(over_ == Handle::none ? Qt::ArrowCursor : Qt::SizeAllCursor);
    update();
    return;
  }
  const double x = (event->position().x() - place(0, 0).x()) / heldScale_, y = (place(0, 0).y() - event->position().y()) / heldScale_;
  auto rounded = [](double v) { return std::round(v * 100) / 100; };
  level::Agent a = agent_;
  if (held_ == Handle::radius) a.radius = std::clamp(rounded(-x), 0.05, 5.0);
  if (held_ == Handle::height) a.height = std::clamp(rounded(y), (a.crouches() ? a.crouchHeight : a.stepHeight) + 0.05, 20.0);
  if (held_ == Handle::crouch) a.crouchHeight = std::clamp(rounded(y), a.stepHeight + 0.05, a.height - 0.05);
  if (held_ == Handle::step) a.stepHeight = std::clamp(rounded(y), 0.0, (a.crouches() ? a.crouchHeight : a.height) - 0.05);
  if (held_ == Handle::slope) a.maxSlope = std::clamp(std::round(degrees(std::atan2(y - a.stepHeight, x - a.radius - 0.45))), 0.0, 85.0);
  if (a == agent_) return;
  setAgent(a);
  emit dragged(a);
}

void AgentDrawing::mouseReleaseEvent(QMouseEvent*) {
  if (held_ == Handle::none) return;
  held_ = Handle::none;
  emit dropped();
  update();
}

}  // namespace dune::window
