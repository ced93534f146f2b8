// From left to right: the agent, the highest step, the steepest slope, a beam that it just passes under, a gap as wide as its longest jump,
// a ledge as high as its deepest drop.

#include "window/stops/agents/agent_drawing.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include "core/base/vec.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr double kGrab = 12;                // pixels
constexpr double kAside = 12, kOverCourse = 30;  // pixels free beside and over the course; labels stand there
constexpr double kBetween = 34;             // from the course down to the lane
constexpr double kWall = 8, kUnder = 7;     // pixels: of the lane's walls, and free under them

/// Where things stand, metres from the feet at the start, to the right and up.
struct Course {
  double step, slope, crest, height;     // where the step is, where the slope begins and ends, and how high the deck above it is
  double beam, lowBeam, brink, landing;  // middles of the beams; the gap
  double ledge, end, beamHalf, beamThick;

  Course(const nav::Agent& a, double unit) {
    const double rise = radians(a.maxSlope), along = 0.95 * unit;
    step = a.radius + 0.3 * unit, slope = step + 0.35 * unit;
    crest = slope + along * std::cos(rise), height = a.stepHeight + along * std::sin(rise);
    beamHalf = 0.16 * unit, beamThick = 0.22 * unit;
    beam = crest + 0.2 * unit + std::max(a.radius, beamHalf);
    lowBeam = a.crouches() ? beam + 0.25 * unit + 2 * std::max(a.radius, beamHalf) : beam;
    brink = lowBeam + std::max(a.radius, beamHalf) + 0.15 * unit;
    landing = brink + a.maxJump;
    ledge = landing + 0.6 * unit;
    end = ledge + std::max(0.8 * unit, 2 * a.radius + 0.2 * unit);
  }
  double flight(double x, const nav::Agent& a) const {
    const double t = (x - brink) / a.maxJump;
    return height + a.maxJump * 0.6 * t * (1 - t);
  }
};

double rounded(double metres) { return std::round(metres * 100) / 100; }

}  // namespace

AgentDrawing::AgentDrawing(QWidget* parent) : QWidget(parent) {
  setMinimumHeight(262);
  setMouseTracking(true);
  setAccessibleName(tr("Agent to scale"));
  setToolTip(tr("Every obstacle is as hard as this agent can take. Drag the round handles"));
}

void AgentDrawing::setAgent(const nav::Agent& agent) {
  agent_ = agent;
  update();
}

AgentDrawing::Frame AgentDrawing::frame() const {
  if (held_ != Handle::none) return heldFrame_;
  const nav::Agent& a = agent_;
  const double unit = std::max({a.height / 1.8, a.radius / 0.7, a.maxJump / 4, a.maxDrop / 5, 0.2});
  const Course c(a, unit);
  const double left = a.radius + 0.1 * unit, wide = left + c.end;
  const double up = c.height + a.height + c.beamThick, down = std::max(0.0, a.maxDrop - c.height);
  const double fixed = kOverCourse + kBetween + 2 * kWall + kUnder;
  const double scale = std::min((width() - 2 * kAside) / wide, (height() - fixed) / (up + down + 2 * a.radius));
  const double free = std::max(0.0, height() - fixed - (up + down + 2 * a.radius) * scale);
  const QPointF feet(kAside + (width() - 2 * kAside - wide * scale) / 2 + left * scale, kOverCourse + free / 2 + up * scale);
  return {scale, unit, feet, height() - kUnder - kWall - a.radius * scale - feet.y()};
}

QPointF AgentDrawing::place(double x, double y) const {
  const Frame f = frame();
  return f.feet + QPointF(x, -y) * f.scale;
}

QPointF AgentDrawing::inLane(double x, double aside) const {
  const Frame f = frame();
  return f.feet + QPointF(x * f.scale, f.lane - aside * f.scale);
}

QPointF AgentDrawing::handleAt(Handle handle) const {
  const Course c(agent_, frame().unit);
  switch (handle) {
    case Handle::radius:
      return inLane(0, agent_.radius);
    case Handle::height:
      return place(c.beam, c.height + agent_.height);
    case Handle::crouch:
      return place(c.lowBeam, c.height + agent_.crouchHeight);
    case Handle::step:
      return place(c.step, agent_.stepHeight);
    case Handle::slope:
      return place(c.crest, c.height);
    case Handle::jump:
      return place(c.landing, c.height);
    case Handle::drop:
      return place((c.ledge + c.end) / 2, c.height - agent_.maxDrop);
    default:
      return {};
  }
}

AgentDrawing::Handle AgentDrawing::handleNear(const QPointF& pixel) const {
  Handle best = Handle::none;
  double least = kGrab;
  for (const Handle h : {Handle::step, Handle::slope, Handle::radius, Handle::height, Handle::crouch, Handle::jump, Handle::drop}) {
    if (h == Handle::crouch && !agent_.crouches()) continue;
    if (const double d = QLineF(handleAt(h), pixel).length(); d < least) least = d, best = h;
  }
  return best;
}

void AgentDrawing::drawGround(QPainter& p) const {
  const Course c(agent_, frame().unit);
  const double floor = inLane(0, agent_.radius).y() - kWall - 10;
  QPainterPath first(place(-agent_.radius - 0.1 * frame().unit, 0)), second(place(c.landing, c.height));
  for (const auto& [x, y] :
       {std::pair(c.step, 0.0), {c.step, agent_.stepHeight}, {c.slope, agent_.stepHeight}, {c.crest, c.height}, {c.brink, c.height}})
    first.lineTo(place(x, y));
  for (const auto& [x, y] : {std::pair(c.ledge, c.height), {c.ledge, c.height - agent_.maxDrop}, {c.end, c.height - agent_.maxDrop}})
    second.lineTo(place(x, y));
  QColor sand(theme().ground.rgb());
  sand.setAlpha(70);
  for (const QPainterPath& line : {first, second}) {
    QPainterPath earth = line;
    const double from = line.elementAt(0).x;
    earth.lineTo(line.currentPosition().x(), floor);
    earth.lineTo(from, floor);
    p.fillPath(earth, sand);
  }
  if (agent_.maxJump > 0) {
    first.lineTo(first.currentPosition().x(), floor);  // the sides of the gap
    QPainterPath side(QPointF(place(c.landing, 0).x(), floor));
    side.lineTo(place(c.landing, c.height));
    second = side + second;
  }
  p.setPen(QPen(theme().faceEdge, 2));
  p.setBrush(Qt::NoBrush);
  p.drawPath(first);
  p.drawPath(second);
}

/// What it just passes under, on two thin posts that stand behind the way.
void AgentDrawing::drawBeams(QPainter& p) const {
  const Course c(agent_, frame().unit);
  auto beam = [&](double at, double clearance) {
    const double low = c.height + clearance;
    p.setPen(QPen(theme().quiet, 1, Qt::DotLine));
    for (const double side : {-c.beamHalf, c.beamHalf}) p.drawLine(place(at + side, c.height), place(at + side, low));
    p.setPen(QPen(theme().border, 1.5));
    p.setBrush(theme().level);
    p.drawRect(QRectF(place(at - c.beamHalf * 1.6, low + c.beamThick), place(at + c.beamHalf * 1.6, low)));
  };
  beam(c.beam, agent_.height);
  if (agent_.crouches()) beam(c.lowBeam, agent_.crouchHeight);
}

void AgentDrawing::drawBody(QPainter& p, double x, double y, double tall, bool solid) const {
  const QColor colour = theme().agent[0];
  QColor fill = colour;
  fill.setAlpha(solid ? 210 : 45);
  p.setPen(QPen(colour, solid ? 1.5 : 1.2, solid ? Qt::SolidLine : Qt::DashLine));
  p.setBrush(fill);
  p.drawRect(QRectF(place(x - agent_.radius, y + tall), place(x + agent_.radius, y)));
  if (!solid) return;
  p.setPen(Qt::NoPen);  // the wedge that says where it looks, as on bodies in the world
  p.setBrush(theme().panel);
  const double w = agent_.radius, up = y + tall * 0.72;
  p.drawPolygon(QPolygonF({place(x + 0.1 * w, up + 0.4 * w), place(x + 0.85 * w, up), place(x + 0.1 * w, up - 0.4 * w)}));
}

void AgentDrawing::drawBodies(QPainter& p) const {
  const nav::Agent& a = agent_;
  const Course c(a, frame().unit);
  drawBody(p, 0, 0, a.height, true);
  drawBody(p, c.beam, c.height, a.height, false);
  if (a.crouches()) drawBody(p, c.lowBeam, c.height, a.crouchHeight, false);
  if (a.maxJump > 0) {
    QPainterPath flight(place(c.brink, c.height));
    for (int i = 1; i <= 16; ++i) flight.lineTo(place(c.brink + a.maxJump * i / 16, c.flight(c.brink + a.maxJump * i / 16, a)));
    p.setPen(QPen(theme().link, 1.5, Qt::DotLine));
    p.setBrush(Qt::NoBrush);
    p.drawPath(flight);
  }
  if (a.originHeight == 0) return;
  const QPointF origin = place(0, a.originHeight);  // where games have its place
  p.setPen(QPen(theme().accent, 1.5));
  p.drawLine(origin - QPointF(5, 0), origin + QPointF(5, 0));
  p.drawLine(origin - QPointF(0, 5), origin + QPointF(0, 5));
}

/// Seen from above, along the whole course: two walls that its body just fits between.
void AgentDrawing::drawLane(QPainter& p) const {
  const Frame f = frame();
  const Course c(agent_, f.unit);
  const double left = place(-agent_.radius - 0.1 * f.unit, 0).x(), wide = place(c.end, 0).x() - left, radius = agent_.radius * f.scale;
  const double up = inLane(0, agent_.radius).y(), low = inLane(0, -agent_.radius).y();
  p.setPen(Qt::NoPen);
  QColor sand(theme().ground.rgb());
  sand.setAlpha(70);
  p.fillRect(QRectF(left, up, wide, low - up), sand);
  for (const double top : {up - kWall, low}) {
    p.fillRect(QRectF(left, top, wide, kWall), theme().level);
    p.fillRect(QRectF(left, top, wide, kWall), QBrush(theme().border, Qt::BDiagPattern));
  }
  p.setPen(QPen(theme().border, 1.5));
  p.drawLine(QPointF(left, up), QPointF(left + wide, up));
  p.drawLine(QPointF(left, low), QPointF(left + wide, low));
  QColor fill = theme().agent[0];
  fill.setAlpha(210);
  p.setPen(QPen(theme().agent[0], 1.5));
  p.setBrush(fill);
  const QPointF centre = inLane(0, 0);
  p.drawEllipse(centre, radius, radius);
  p.setPen(Qt::NoPen);
  p.setBrush(theme().panel);
  p.drawPolygon(QPolygonF({centre + QPointF(0.1, -0.4) * radius, centre + QPointF(0.85, 0) * radius, centre + QPointF(0.1, 0.4) * radius}));
}

void AgentDrawing::drawHandles(QPainter& p) const {
  QFont small = font();
  small.setPointSizeF(font().pointSizeF() * 0.88);
  p.setFont(small);
  QColor back = theme().window;
  back.setAlpha(225);
  const double line = p.fontMetrics().height();
  // A label by its middle line; it is kept inside the picture.
  auto write = [&](const QPointF& middle, const QString& text) {
    QRectF box(0, 0, p.fontMetrics().horizontalAdvance(text) + 4, line);
    box.moveCenter(middle);
    box.moveLeft(std::clamp(box.left(), 4.0, std::max(4.0, width() - box.width() - 4)));
    box.moveTop(std::clamp(box.top(), 3.0, height() - box.height() - 3));
    p.fillRect(box, back);
    p.setPen(theme().text);
    p.drawText(box, Qt::AlignCenter, text);
  };
  auto metres = [](double m) { return QString::number(m, 'f', 2); };
  const nav::Agent& a = agent_;
  const Course c(a, frame().unit);
  const double over = c.beamThick * frame().scale + line / 2 + 3;
  write(handleAt(Handle::height) - QPointF(0, over), tr("height %1 m").arg(metres(a.height)));
  if (a.crouches()) {
    const QString text = tr("crouching %1 m").arg(metres(a.crouchHeight));
    write(handleAt(Handle::crouch) + QPointF(p.fontMetrics().horizontalAdvance(text) / 2 + 12, -over / 2), text);
  }
  const QString slope = tr("%1°").arg(a.maxSlope, 0, 'f', 0);
  write(handleAt(Handle::slope) + QPointF(-14 - p.fontMetrics().horizontalAdvance(slope) / 2.0, -4), slope);
  write(place(c.step, 0) + QPointF(0, line / 2 + 5), tr("step %1 m").arg(metres(a.stepHeight)));
  write(place((c.brink + c.landing) / 2, c.height) + QPointF(0, line / 2 + 8),
        a.maxJump > 0 ? tr("jump %1 m").arg(metres(a.maxJump)) : tr("no jump"));
  write(handleAt(Handle::drop) + QPointF(0, line / 2 + 8 + (a.maxDrop > 0 ? 0 : line)),
        a.maxDrop > 0 ? tr("drop %1 m").arg(metres(a.maxDrop)) : tr("no drop"));
  const QString radius = tr("radius %1 m").arg(metres(a.radius));
  write(inLane(0, 0) + QPointF(a.radius * frame().scale + 12 + p.fontMetrics().horizontalAdvance(radius) / 2.0, 0), radius);
  for (const Handle h : {Handle::radius, Handle::height, Handle::crouch, Handle::slope, Handle::step, Handle::jump, Handle::drop}) {
    if (h == Handle::crouch && !a.crouches()) continue;
    p.setPen(QPen(theme().accent, 2));
    p.setBrush(h == held_ || h == over_ ? theme().accent : theme().panel);
    p.drawEllipse(handleAt(h), 4.5, 4.5);
  }
}

void AgentDrawing::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(theme().line, 1));
  p.setBrush(theme().window);
  p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
  drawGround(p);
  drawBeams(p);
  drawBodies(p);
  drawLane(p);
  drawHandles(p);
}

void AgentDrawing::mousePressEvent(QMouseEvent* event) {
  if (event->button() != Qt::LeftButton || held_ != Handle::none) return;
  heldFrame_ = frame();
  held_ = handleNear(event->position());
  update();
}

/// The agent with the limit that puts a handle at a pixel.
nav::Agent AgentDrawing::with(Handle handle, const QPointF& pixel) const {
  const QPointF off = (pixel - heldFrame_.feet) / heldFrame_.scale;
  const double x = off.x(), y = -off.y();
  nav::Agent a = agent_;
  const Course c(a, heldFrame_.unit);
  if (handle == Handle::radius) a.radius = std::clamp(rounded(y + heldFrame_.lane / heldFrame_.scale), 0.05, 5.0);
  if (handle == Handle::height) a.height = std::clamp(rounded(y - c.height), (a.crouches() ? a.crouchHeight : a.stepHeight) + 0.05, 20.0);
  if (handle == Handle::crouch) a.crouchHeight = std::clamp(rounded(y - c.height), a.stepHeight + 0.05, a.height - 0.05);
  if (handle == Handle::step) a.stepHeight = std::clamp(rounded(y), 0.0, (a.crouches() ? a.crouchHeight : a.height) - 0.05);
  if (handle == Handle::slope) a.maxSlope = std::clamp(std::round(degrees(std::atan2(y - a.stepHeight, x - c.slope))), 0.0, 85.0);
  if (handle == Handle::jump) a.maxJump = std::clamp(rounded(x - c.brink), 0.0, 20.0);
  if (handle == Handle::drop) a.maxDrop = std::clamp(rounded(c.height - y), 0.0, 20.0);
  return a;
}

void AgentDrawing::mouseMoveEvent(QMouseEvent* event) {
  if (held_ == Handle::none) {
    over_ = handleNear(event->position());
    setCursor(over_ == Handle::none ? Qt::ArrowCursor : Qt::SizeAllCursor);
    update();
    return;
  }
  const nav::Agent a = with(held_, event->position());
  if (a == agent_) return;
  setAgent(a);
  emit dragged(a);
}

void AgentDrawing::mouseReleaseEvent(QMouseEvent* event) {
  if (held_ == Handle::none || event->button() != Qt::LeftButton) return;
  held_ = Handle::none;
  emit dropped();
  update();
}

}  // namespace dune::window
