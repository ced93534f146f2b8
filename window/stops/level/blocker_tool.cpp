#include "window/stops/level/blocker_tool.h"

#include "window/scene/theme.h"

namespace dune::window {

namespace {

using level::Blocker;
using level::BlockerShape;

constexpr double kOutside = 0.5;  // m: the turning handle stands off the blocker

Vec3 alongX(const Blocker& b) { return {std::cos(radians(b.turn)), 0, -std::sin(radians(b.turn))}; }
Vec3 alongZ(const Blocker& b) { return {std::sin(radians(b.turn)), 0, std::cos(radians(b.turn))}; }

/// What a side handle does: that side moves, the one across stays.
void resize(Blocker& b, const Blocker& before, const Vec3& outward, double Vec3::*extent, double along) {
  const double size = std::clamp(before.size.*extent / 2 + along, level::kLeastBlocker, level::kMostBlocker);
  b.size.*extent = size;
  b.at = before.at + outward * ((size - before.size.*extent) / 2);
}

}  // namespace

std::vector<Handle> BlockerTool::handlesOf(const Blocker& b) {
  const Vec3 x = alongX(b) * (b.size.x / 2), z = alongZ(b) * (b.size.z / 2), half{0, b.size.y / 2, 0};
  const Vec3 out = alongX(b) * (b.size.x / 2 + kOutside);
  const Handle turning{turn, b.at + out, QObject::tr("which way it faces; with Shift freely, else by 15°")};
  if (level::hasOutline(b)) {
    std::vector<Handle> handles{turning};
    if (b.shape == BlockerShape::prism) handles.push_back({top, b.at + Vec3{0, b.size.y, 0}, QObject::tr("its height")});
    const Polygon base = level::baseOf(b);
    for (std::size_t i = 0; i < base.size(); ++i)
      handles.push_back({firstCorner + static_cast<int>(i), lift(base[i], b.at.y), QObject::tr("this corner of its outline")});
    return handles;
  }
  return {{top, b.at + Vec3{0, b.size.y, 0}, QObject::tr("its height")}, {plusX, b.at + x + half, QObject::tr("its width")},
          {minusX, b.at - x + half, QObject::tr("its width")},           {plusZ, b.at + z + half, QObject::tr("its depth")},
          {minusZ, b.at - z + half, QObject::tr("its depth")},           turning};
}

QString BlockerTool::hint() const {
  const auto placing = page_.placing();
  if (placing && level::hasOutline(*placing))
    return corners_.size() < 3 ? QObject::tr("Click the corners of the outline, one after the other. Esc leaves the tool.")
                               : QObject::tr("Click the next corner; click the first one again, or press Enter, to close the outline.");
  if (placing)
    return QObject::tr("Click the ground where the %1 shall stand. Esc leaves the tool.")
        .arg(QString::fromLatin1(level::shapeName(placing->shape)));
  if (near_ >= 0 && page_.chosen())
    for (const Handle& h : handlesOf(*page_.chosen()))
      if (h.id == near_) return QObject::tr("Drag to change %1.").arg(h.tip);
  if (page_.chosen()) return QObject::tr("Drag the blocker to move it, its handles to resize and turn it. Delete takes it away.");
  return QObject::tr("Choose a shape on the left and click the ground to place it, or click a blocker to change it.");
}

std::optional<Vec3> BlockerTool::groundAt(const Pointer& p) const {
  // The level itself, not the blockers: a blocker never stands on itself.
  if (const auto tree = workspace_.pickTree())
    if (const auto hit = tree->pick(p.ray, p.cutAway)) return hit->at;
  return meetPlane(p.ray, corners_.empty() ? 0 : corners_[0].y);
}

void BlockerTool::pressPlacing(const Pointer& p) {
  const auto at = groundAt(p);
  if (!at) return;
  Blocker b = *page_.placing();
  if (level::hasOutline(b)) {
    if (corners_.size() >= 3 && glm::distance(*at, corners_[0]) < 0.4) return finish();
    corners_.push_back(*at);
    return;
  }
  b.at = *at;
  page_.place(b);
}

void BlockerTool::press(const Pointer& p) {
  if (page_.placing()) return pressPlacing(p);
  active_ = -1;
  if (const Blocker* b = page_.chosen()) {
    const std::vector<Handle> handles = handlesOf(*b);
    if (const Handle* h = camera_ ? handleNear(handles, *camera_, p.pixel) : nullptr) {
      active_ = h->id, before_ = *b;
      return;
    }
  }
  const std::size_t own = workspace_.level() ? workspace_.level()->level->objects.size() : 0;
  if (!p.hit || p.hit->object < own) return page_.choose(-1);
  const Blocker& b = workspace_.project().level->blockers[p.hit->object - own];
  page_.choose(b.id);
  active_ = middle, before_ = b;
  const auto ground = meetPlane(p.ray, b.at.y);
  grip_ = ground ? *ground - b.at : Vec3{0};
}

void BlockerTool::dragCorner(const Pointer& p) {
  const auto to = meetPlane(p.ray, before_.at.y);
  if (!to) return;
  std::vector<Vec3> corners;
  for (const Vec2& q : level::baseOf(before_)) corners.push_back(lift(q, before_.at.y));
  corners[static_cast<std::size_t>(active_ - firstCorner)] = *to;
  page_.replace(level::withCorners(before_, corners), QObject::tr("Move corner"),
                QStringLiteral("blocker drag %1 %2").arg(before_.id).arg(active_));
}

void BlockerTool::drag(const Pointer& p) {
  if (active_ >= firstCorner) return dragCorner(p);
  Blocker b = before_;
  switch (active_) {
    case middle: {
      // Slides in its own plane and then drops, or rises, to the ground of the level that is there.
      const auto in = meetPlane(p.ray, before_.at.y);
      if (!in) return;
      b.at = *in - grip_;
      const auto ground = groundAt(p);
      if (ground && std::abs(ground->y - before_.at.y) > 1e-3) b.at = *ground;
      break;
    }
    case top:
      b.size.y = std::clamp(alongLine(p.ray, before_.at, {0, 1, 0}), level::kLeastBlocker, level::kMostBlocker);
      break;
    case plusX:
    case minusX:
    case plusZ:
    case minusZ: {
      const bool x = active_ == plusX || active_ == minusX;
      const Vec3 out = (x ? alongX(before_) : alongZ(before_)) * (active_ == plusX || active_ == plusZ ? 1.0 : -1.0);
      resize(b, before_, out, x ? &Vec3::x : &Vec3::z, alongLine(p.ray, before_.at + Vec3{0, before_.size.y / 2, 0}, out));
      break;
    }
    default: {
      const auto in = meetPlane(p.ray, before_.at.y);
      if (!in || glm::distance(*in, before_.at) < 1e-3) return;
      const Vec3 d = *in - before_.at;
      const double angle = degrees(std::atan2(-d.z, d.x)), step = p.modifiers & Qt::ShiftModifier ? 1 : 15;
      b.turn = std::round(angle / step) * step;
    }
  }
  if (b == before_) return;
  page_.replace(b, QObject::tr("Change blocker"), QStringLiteral("blocker drag %1 %2").arg(b.id).arg(active_));
}

void BlockerTool::move(const Pointer& p, bool pressed) {
  if (pressed && active_ >= 0) return drag(p);
  if (page_.placing())
    if (const auto at = groundAt(p)) next_ = *at;
  near_ = -1;
  if (!page_.chosen() || !camera_) return;
  const std::vector<Handle> handles = handlesOf(*page_.chosen());
  if (const Handle* h = handleNear(handles, *camera_, p.pixel)) near_ = h->id;
}

void BlockerTool::release(const Pointer&) {
  if (active_ >= 0) workspace_.document().endMerge();
  active_ = -1;
}

void BlockerTool::finish() {
  while (corners_.size() > 1 && glm::distance(corners_.back(), corners_[corners_.size() - 2]) < 0.05) corners_.pop_back();
  if (corners_.size() < 3) return;
  if (!page_.placing()) return;
  const Blocker b = level::withCorners(*page_.placing(), corners_);
  corners_.clear();
  page_.place(b);
}

bool BlockerTool::giveUp() {
  if (!corners_.empty()) return corners_.clear(), true;
  return false;
}

bool BlockerTool::remove() {
  if (!page_.chosen()) return false;
  page_.remove();
  return true;
}

void BlockerTool::draw(DrawList& list) const {
  const std::uint32_t ink = packed(theme().accent, 1);
  const Vec3 up{0, 0.05, 0};
  for (std::size_t i = 0; i < corners_.size(); ++i)
    list.line(corners_[i] + up, (i + 1 < corners_.size() ? corners_[i + 1] : next_) + up, 3, ink);
  if (corners_.size() >= 2) list.dashed(next_ + up, corners_[0] + up, 0.25, 1.5, ink);
  const Blocker* b = page_.chosen();
  if (!b || !camera_) return;
  const Polygon base = level::baseOf(*b);
  for (std::size_t i = 0; i < base.size(); ++i)
    for (const double y : {b->at.y + 0.02, b->at.y + b->size.y})
      if (b->shape != BlockerShape::ramp || y < b->at.y + 0.03) list.line(lift(base[i], y), lift(base[(i + 1) % base.size()], y), 2.5, ink);
  list.dashed(b->at, b->at + alongX(*b) * (b->size.x / 2 + kOutside), 0.12, 2, ink);
  const std::vector<Handle> handles = handlesOf(*b);
  drawHandles(handles, *camera_, active_ >= 0 ? active_ : near_, list);
}

}  // namespace dune::window
