// From left to right: low ground below the deepest drop, a gap as wide as the longest jump, the agent, the highest step, the steepest
// slope.

#include "window/stops/agents/agent_drawing.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include "core/base/vec.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr double kGrab = 12;                             // pixels
constexpr double kAside = 14, kAbove = 26, kBelow = 48;  // pixels free beside, over and under the picture; labels stand there

/// Where things stand, metres from the feet, to the right and up.
struct Places {
  double step, top, reach, slope;  // right: where the step is, where the slope begins, how long it is; radians
  double ledge, far, brink, low;   // left: the gap from ledge to far, the drop at brink, the end of the low ground

  Places(const nav::Agent& a, double unit) {
    step = a.radius + 0.12 * unit, top = step + 0.33 * unit, reach = 0.9 * unit, slope = radians(a.maxSlope);
    ledge = -a.radius - 0.25 * unit, far = ledge - a.maxJump, brink = far - 0.75 * unit, low = brink - 0.7 * unit;
  }
  double dropAt() const { return (brink + low) / 2; }
  QPointF slopeEnd(double along) const { return {top + along * std::cos(slope), along * std::sin(slope)}; }
};

}  // namespace

AgentDrawing::AgentDrawing(QWidget* parent) : QWidget(parent) {
  setMinimumHeight(235);
  setMouseTracking(true);
  setAccessibleName(tr("Agent to scale"));
  setToolTip(tr("Drag the round handles"));
}

void AgentDrawing::setAgent(const nav::Agent& agent) {
  agent_ = agent;
  update();
}

AgentDrawing::Frame AgentDrawing::frame() const {
  if (held_ != Handle::none) return heldFrame_;
  const double unit = std::max({agent_.height / 1.8, agent_.maxJump / 3, agent_.maxDrop / 4, 0.2});
  const Places at(agent_, unit);
  const double right = at.slopeEnd(at.reach * 1.13).x(), high = std::max(agent_.height, agent_.stepHeight + at.reach * std::sin(at.slope));
  const double wide = right - at.low, tall = high + agent_.maxDrop;
  const double free = width() - 2 * kAside, room = height() - kAbove - kBelow;
  const double scale = std::min(free / wide, room / tall);
  return {scale, unit, {kAside + (free - wide * scale) / 2 - at.low * scale, kAbove + (room - tall * scale) / 2 + high * scale}};
}

QPointF AgentDrawing::place(double x, double y) const {
  const Frame f = frame();
  return f.feet + QPointF(x, -y) * f.scale;
}

QPointF AgentDrawing::handleAt(Handle handle) const {
  const Places at(agent_, frame().unit);
  switch (handle) {
    case Handle::radius:
      return place(-agent_.radius, agent_.height * 0.5);
    case Handle::height:
      return place(0, agent_.height);
    case Handle::crouch:
      return place(-agent_.radius * 0.5, agent_.crouchHeight);
    case Handle::step:
      return place(at.step, agent_.stepHeight);
    case Handle::slope:
      return place(at.slopeEnd(at.reach).x(), agent_.stepHeight + at.slopeEnd(at.reach).y());
    case Handle::jump:
      return place(at.far, 0);
    case Handle::drop:
      return place(at.dropAt(), -agent_.maxDrop);
    default:
      return {};
  }
}

AgentDrawing::Handle AgentDrawing::handleNear(const QPointF& pixel) const {
  if (agent_.crouches() && QLineF(handleAt(Handle::crouch), pixel).length() < kGrab) return Handle::crouch;
  for (const Handle h : {Handle::step, Handle::slope, Handle::radius, Handle::height, Handle::jump, Handle::drop})
    if (QLineF(handleAt(h), pixel).length() < kGrab) return h;
  return Handle::none;
}

void AgentDrawing::drawGround(QPainter& p) const {
  const Places at(agent_, frame().unit);
  const double bottom = height() - 6.0, drop = agent_.maxDrop;
  QPainterPath left(place(at.low, -drop)), right(place(at.ledge, 0));
  left.lineTo(place(at.brink, -drop));
  left.lineTo(place(at.brink, 0));
  left.lineTo(place(at.far, 0));
  right.lineTo(place(at.step, 0));
  right.lineTo(place(at.step, agent_.stepHeight));
  right.lineTo(place(at.top, agent_.stepHeight));
  const QPointF end = at.slopeEnd(at.reach * 1.13);
  right.lineTo(place(end.x(), agent_.stepHeight + end.y()));
  QColor sand(theme().ground.rgb());
  sand.setAlpha(70);
  for (const QPainterPath& line : {left, right}) {
    QPainterPath earth = line;
    const double from = line.elementAt(0).x;
    earth.lineTo(line.currentPosition().x(), bottom);
    earth.lineTo(from, bottom);
    p.fillPath(earth, sand);
  }
  if (agent_.maxJump > 0) {
    // The sides of the gap, and the flight over it.
    left.lineTo(left.currentPosition().x(), bottom);
    QPainterPath side(QPointF(place(at.ledge, 0).x(), bottom));
    side.lineTo(place(at.ledge, 0));
    right.addPath(side);
    QPainterPath flight(place(at.ledge, 0));
    flight.quadTo(place((at.ledge + at.far) / 2, agent_.maxJump * 0.4), place(at.far, 0));
    p.setPen(QPen(theme().link, 1.5, Qt::DotLine));
    p.drawPath(flight);
  }
  p.setPen(QPen(theme().faceEdge, 2));
  p.setBrush(Qt::NoBrush);
  p.drawPath(left);
  p.drawPath(right);
}

void AgentDrawing::drawBody(QPainter& p) const {
  const Theme& t = theme();
  const QRectF body(place(-agent_.radius, agent_.height), place(agent_.radius, 0));
  QColor fill = t.agent[0];
  fill.setAlpha(60);
  p.setPen(QPen(t.agent[0], 2));
  p.setBrush(fill);
  const double round = std::min(body.width() / 2, body.height() / 3);
  p.drawRoundedRect(body, round, round);
  p.setPen(QPen(t.quiet, 1, Qt::DashLine));
  p.drawLine(place(0, 0), place(0, agent_.height));
  if (agent_.originHeight != 0) {
    // The body's origin, where games have its place.
    const QPointF origin = place(0, agent_.originHeight);
    p.setPen(QPen(t.accent, 1.5));
    p.drawLine(origin - QPointF(5, 0), origin + QPointF(5, 0));
    p.drawLine(origin - QPointF(0, 5), origin + QPointF(0, 5));
  }
  if (!agent_.crouches()) return;
  // As low as it gets: the same body, pressed flat.
  const QRectF low(place(-agent_.radius, agent_.crouchHeight), place(agent_.radius, 0));
  p.setPen(QPen(t.agent[0], 1.5, Qt::DashLine));
  p.setBrush(Qt::NoBrush);
  p.drawRoundedRect(low, std::min(round, low.height() / 2), std::min(round, low.height() / 2));
}

void AgentDrawing::drawHandles(QPainter& p) const {
  QFont small = font();
  small.setPointSizeF(font().pointSizeF() * 0.88);
  p.setFont(small);
  QColor back = theme().window;
  back.setAlpha(215);
  auto write = [&](QRectF box, const QString& text) {
    box.moveLeft(std::clamp(box.left(), 5.0, std::max(5.0, width() - box.width() - 5)));
    if (!text.isEmpty()) p.fillRect(box, back);
    p.setPen(theme().text);
    p.drawText(box, Qt::AlignCenter, text);
  };
  enum class Side { left, right, above, below };
  auto handle = [&](Handle h, const QString& text, Side side) {
    const QPointF at = handleAt(h);
    p.setPen(QPen(theme().accent, 2));
    p.setBrush(h == held_ || h == over_ ? theme().accent : theme().panel);
    p.drawEllipse(at, 5, 5);
    const QSizeF size(p.fontMetrics().horizontalAdvance(text) + 2, 16);
    QRectF box(QPointF(), size);
    if (side == Side::left) box.moveTopLeft({at.x() - 9 - size.width(), at.y() - 9});
    if (side == Side::right) box.moveTopLeft({at.x() + 9, at.y() - 9});
    if (side == Side::above) box.moveTopLeft({at.x() - size.width() / 2, at.y() - 24});
    if (side == Side::below) box.moveTopLeft({at.x() - size.width() / 2, at.y() + 9});
    write(box, text);
  };
  const nav::Agent& a = agent_;
  handle(Handle::radius, tr("radius %1 m").arg(a.radius, 0, 'f', 2), Side::left);
  handle(Handle::height, tr("%1 m").arg(a.height, 0, 'f', 2), Side::above);
  if (a.crouches()) handle(Handle::crouch, tr("crouching %1 m").arg(a.crouchHeight, 0, 'f', 2), Side::left);
  handle(Handle::slope, tr("%1°").arg(a.maxSlope, 0, 'f', 0), Side::above);
  handle(Handle::step, {}, Side::right);
  handle(Handle::jump, {}, Side::below);
  handle(Handle::drop, a.maxDrop > 0 ? tr("drop %1 m").arg(a.maxDrop, 0, 'f', 2) : tr("no drop"), Side::below);
  const Places at(a, frame().unit);
  auto under = [&](double x, double rows, const QString& text) {
    const double wide = p.fontMetrics().horizontalAdvance(text) + 2;
    write(QRectF(place(x, 0).x() - wide / 2, place(x, 0).y() + 9 + 17 * rows, wide, 16), text);
  };
  under((at.ledge + at.far) / 2, a.maxDrop > 0 ? 0 : 1, a.maxJump > 0 ? tr("jump %1 m").arg(a.maxJump, 0, 'f', 2) : tr("no jump"));
  under(at.step + 0.2 * frame().unit, 0, tr("step %1 m").arg(a.stepHeight, 0, 'f', 2));
}

void AgentDrawing::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(theme().line, 1));
  p.setBrush(theme().window);
  p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
  drawGround(p);
  drawBody(p);
  drawHandles(p);
}

void AgentDrawing::mousePressEvent(QMouseEvent* event) {
  heldFrame_ = frame();
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
  const QPointF off = (event->position() - heldFrame_.feet) / heldFrame_.scale;
  const double x = off.x(), y = -off.y();
  auto rounded = [](double v) { return std::round(v * 100) / 100; };
  nav::Agent a = agent_;
  const Places at(a, heldFrame_.unit);
  if (held_ == Handle::radius) a.radius = std::clamp(rounded(-x), 0.05, 5.0);
  if (held_ == Handle::height) a.height = std::clamp(rounded(y), (a.crouches() ? a.crouchHeight : a.stepHeight) + 0.05, 20.0);
  if (held_ == Handle::crouch) a.crouchHeight = std::clamp(rounded(y), a.stepHeight + 0.05, a.height - 0.05);
  if (held_ == Handle::step) a.stepHeight = std::clamp(rounded(y), 0.0, (a.crouches() ? a.crouchHeight : a.height) - 0.05);
  if (held_ == Handle::slope) a.maxSlope = std::clamp(std::round(degrees(std::atan2(y - a.stepHeight, x - at.top))), 0.0, 85.0);
  if (held_ == Handle::jump) a.maxJump = std::clamp(rounded(at.ledge - x), 0.0, 20.0);
  if (held_ == Handle::drop) a.maxDrop = std::clamp(rounded(-y), 0.0, 20.0);
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
