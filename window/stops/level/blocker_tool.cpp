#include "window/stops/level/blocker_tool.h"

#include "window/scene/theme.h"
#include "window/session/hand_made.h"

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

/// Its outline below and, but for a ramp's, above.
void drawEdges(DrawList& list, const Blocker& b) {
  const std::uint32_t ink = packed(theme().accent, 1);
  const Polygon base = level::baseOf(b);
  for (std::size_t i = 0; i < base.size(); ++i)
    for (const double y : {b.at.y + 0.02, b.at.y + b.size.y})
      if (b.shape != BlockerShape::ramp || y < b.at.y + 0.03) list.line(lift(base[i], y), lift(base[(i + 1) % base.size()], y), 2.5, ink);
}

/// So that a handle never hides what it belongs to.
double largestHandle(const Blocker& b) { return std::max(0.04, 0.2 * std::min(b.size.x, b.size.z)); }

}  // namespace

std::vector<Handle> BlockerTool::handlesOf(const Blocker& b) {
  std::vector<Handle> handles = allHandles(b);
  for (Handle& h : handles) h.largest = largestHandle(b);
  return handles;
}

std::vector<Handle> BlockerTool::allHandles(const Blocker& b) {
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

std::optional<Vec3> groundAt(Workspace& workspace, const Pointer& p, double height) {
  if (const auto& tree = workspace.source().tree())
    if (const auto hit = tree->pick(p.ray, p.cutAway)) return hit->at;
  return meetPlane(p.ray, height);
}

QString PlaceTool::hint() const {
  const auto placing = placing_();
  return QObject::tr("Click the ground where the %1 shall stand. Esc leaves the tool.")
      .arg(placing ? QString::fromLatin1(level::shapeName(placing->shape)) : QString());
}

bool PlaceTool::press(const Pointer& p) {
  auto b = placing_();
  const auto at = groundAt(workspace_, p, 0);
  if (!b || !at) return true;
  b->at = *at;
  place_(*b);
  return true;
}

void PlaceTool::draw(DrawList& list, const Camera&) const {
  const auto placing = placing_();
  if (!placing || !at_) return;
  Blocker b = *placing;
  b.at = *at_;
  const level::Level solid = level::solidsOf({&b, 1});
  const std::uint32_t fill = packed(theme().accent, 0.25);
  for (const level::Object& o : solid.objects)
    for (const auto& t : o.triangles) list.triangle(o.vertices[t[0]], o.vertices[t[1]], o.vertices[t[2]], fill);
  drawEdges(list, b);
}

QString BlockerTool::hint() const {
  if (const QString tip = this->tip(); !tip.isEmpty()) return QObject::tr("Drag to change %1.").arg(tip);
  if (chosenBlocker(workspace_))
    return QObject::tr("Drag the blocker to move it, its handles to resize and turn it. Delete takes it away.");
  return QObject::tr("Choose a shape on the left and click the ground to place it, or click a blocker to change it.");
}

std::vector<Handle> BlockerTool::handles() const {
  const Blocker* b = chosenBlocker(workspace_);
  return b ? handlesOf(*b) : std::vector<Handle>{};
}

bool BlockerTool::pressBeside(const Pointer& p) {
  const Blocker* b = p.hit ? blockerAt(workspace_, *p.hit) : nullptr;
  if (!b) {
    workspace_.selection().clear(ThingKind::blocker);
    return false;
  }
  workspace_.selection().choose(ThingKind::blocker, b->id);
  take(middle, p);
  return true;
}

void BlockerTool::begin(int, const Pointer& p) {
  before_ = *chosenBlocker(workspace_);
  const auto ground = meetPlane(p.ray, before_.at.y);
  grip_ = ground ? *ground - before_.at : Vec3{0};
}

std::optional<Blocker> BlockerTool::withCorner(int corner, const Pointer& p) const {
  const auto to = meetPlane(p.ray, before_.at.y);
  if (!to) return std::nullopt;
  std::vector<Vec3> corners;
  for (const Vec2& q : level::baseOf(before_)) corners.push_back(lift(q, before_.at.y));
  corners[static_cast<std::size_t>(corner)] = *to;
  return level::withCorners(before_, corners);
}

/// Slides in its own plane and then drops, or rises, to the ground of the level that is there.
std::optional<Blocker> BlockerTool::moved(const Pointer& p) const {
  const auto in = meetPlane(p.ray, before_.at.y);
  if (!in) return std::nullopt;
  Blocker b = before_;
  b.at = *in - grip_;
  const auto ground = groundAt(workspace_, p, 0);
  if (ground && std::abs(ground->y - before_.at.y) > 1e-3) b.at = *ground;
  return b;
}

std::optional<Blocker> BlockerTool::turned(const Pointer& p) const {
  const auto in = meetPlane(p.ray, before_.at.y);
  if (!in || glm::distance(*in, before_.at) < 1e-3) return std::nullopt;
  const Vec3 d = *in - before_.at;
  const double angle = degrees(std::atan2(-d.z, d.x)), step = p.modifiers & Qt::ShiftModifier ? 1 : 15;
  Blocker b = before_;
  b.turn = std::round(angle / step) * step;
  return b;
}

Blocker BlockerTool::resized(int handle, const Pointer& p) const {
  Blocker b = before_;
  if (handle == top) {
    b.size.y = std::clamp(alongLine(p.ray, before_.at, {0, 1, 0}), level::kLeastBlocker, level::kMostBlocker);
    return b;
  }
  const bool x = handle == plusX || handle == minusX;
  const Vec3 out = (x ? alongX(before_) : alongZ(before_)) * (handle == plusX || handle == plusZ ? 1.0 : -1.0);
  resize(b, before_, out, x ? &Vec3::x : &Vec3::z, alongLine(p.ray, before_.at + Vec3{0, before_.size.y / 2, 0}, out));
  return b;
}

void BlockerTool::dragHandle(int handle, const Pointer& p) {
  const auto now = handle >= firstCorner ? withCorner(handle - firstCorner, p)
                   : handle == middle    ? moved(p)
                   : handle == turn      ? turned(p)
                                         : resized(handle, p);
  if (now) replace(workspace_, *now, handle >= firstCorner ? QObject::tr("Move corner") : QObject::tr("Change blocker"));
}

void BlockerTool::drawOver(DrawList& list, const Camera& camera) const {
  const Blocker* b = chosenBlocker(workspace_);
  if (!b) return;
  drawEdges(list, *b);
  list.dashed(b->at, b->at + alongX(*b) * (b->size.x / 2 + kOutside), 0.12, 2, packed(theme().accent, 1));
  HandleTool::drawOver(list, camera);
}

}  // namespace dune::window
