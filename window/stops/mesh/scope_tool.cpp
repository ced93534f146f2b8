#include "window/stops/mesh/scope_tool.h"

#include "core/ground/chunk.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {
constexpr double kLeastSide = 0.5, kOverGround = 0.06, kDash = 0.5;  // metres; over the ground that was drawn on
}

QString ScopeTool::hint() const {
  if (drawn_.going()) return QObject::tr("Let go at the opposite corner.");
  if (box().empty()) return QObject::tr("Drag from corner to corner on the ground to mark what shall be built.");
  return QObject::tr(
      "Built are all squares that the box touches: the dashed line. Drag the dots, or drag on the ground to draw another box.");
}

std::vector<Handle> ScopeTool::handles() const {
  const Box2 shown = dragged_.value_or(box());
  if (shown.empty() || drawn_.going()) return {};
  const Vec2 low = shown.min, high = shown.max, middle = (low + high) * 0.5;
  const QString tip = QObject::tr("a side of the box");
  return {{0, lift({low.x, middle.y}, height_), tip},
          {1, lift({high.x, middle.y}, height_), tip},
          {2, lift({middle.x, low.y}, height_), tip},
          {3, lift({middle.x, high.y}, height_), tip}};
}

bool ScopeTool::press(const Pointer& p) {
  if (HandleTool::press(p)) return true;
  if (!p.hit) return false;
  height_ = p.hit->at.y;
  drawn_.begin(p.hit->at);
  return true;
}

void ScopeTool::begin(int, const Pointer&) { dragged_ = box(); }

void ScopeTool::dragHandle(int side, const Pointer& p) {
  const auto at = meetPlane(p.ray, height_);
  if (!at) return;
  Box2 made = box();
  const int axis = side / 2;
  const double to = plan(*at)[axis];
  if (side % 2)
    made.max[axis] = std::max(to, made.min[axis] + kLeastSide);
  else
    made.min[axis] = std::min(to, made.max[axis] - kLeastSide);
  dragged_ = made;
}

void ScopeTool::drag(const Pointer& p) {
  HandleTool::drag(p);
  drawn_.drag(p);
}

void ScopeTool::drop(const Pointer& p) {
  drag(p);
  HandleTool::drop(p);
  const Box2 made = dragged_.value_or(drawn_.box());
  dragged_.reset(), drawn_.end();
  const bool large = !made.empty() && made.max.x - made.min.x >= kLeastSide && made.max.y - made.min.y >= kLeastSide;
  if (large) workspace_.setScope({generate::Scope::Kind::box, made});
}

bool ScopeTool::giveUp() {
  dragged_.reset();
  const bool side = HandleTool::giveUp();
  return drawn_.end() || side;
}

/// The squares that the box touches, as one: these are built.
Box2 ScopeTool::built(const Box2& box) const {
  const double size = ground::chunkSize(workspace_.agentKind());
  return {ground::chunkBox(ground::chunkAt(box.min, size), size).min, ground::chunkBox(ground::chunkAt(box.max, size), size).max};
}

void ScopeTool::draw(DrawList& list, const Camera&) const {
  const Box2 shown = drawn_.going() ? drawn_.box() : dragged_.value_or(box());
  if (shown.empty()) return;
  const std::uint32_t ink = packed(theme().accent, 1);
  drawBox(list, shown, height_ + kOverGround, 3, 0, ink);
  drawBox(list, built(shown), height_ + kOverGround, 2, kDash, ink);
}

}  // namespace dune::window
