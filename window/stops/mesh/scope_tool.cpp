#include "window/stops/mesh/scope_tool.h"

#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr double kLeastSide = 0.5, kOver = 0.06, kDash = 0.5;  // metres; over the ground that was drawn on
constexpr double kMostDashes = 60;                             // a side

template <class Side>
void eachSide(const Box2& box, double height, Side&& side) {
  const Vec2 corners[] = {box.min, {box.max.x, box.min.y}, box.max, {box.min.x, box.max.y}};
  for (std::size_t i = 0; i < 4; ++i) side(lift(corners[i], height), lift(corners[(i + 1) % 4], height));
}

}  // namespace

QString ScopeTool::hint() const {
  if (begin_) return QObject::tr("Let go at the opposite corner.");
  if (box().empty()) return QObject::tr("Drag from corner to corner on the ground to mark what shall be built.");
  return QObject::tr(
      "Built are all squares that the box touches: the dashed line. Drag the dots, or drag on the ground to draw another box.");
}

std::vector<Handle> ScopeTool::handles() const {
  if (box().empty()) return {};
  const Vec2 low = box().min, high = box().max, middle = (low + high) * 0.5;
  const QString tip = QObject::tr("a side of the box");
  return {{0, lift({low.x, middle.y}, height_), tip},
          {1, lift({high.x, middle.y}, height_), tip},
          {2, lift({middle.x, low.y}, height_), tip},
          {3, lift({middle.x, high.y}, height_), tip}};
}

void ScopeTool::press(const Pointer& p) {
  const auto all = handles();
  const Handle* near = camera_ ? handleNear(all, *camera_, p.pixel) : nullptr;
  side_ = near ? near->id : -1;
  if (near) begin_ = end_ = near->at;
  if (!near && p.hit) begin_ = end_ = p.hit->at, height_ = p.hit->at.y;
}

void ScopeTool::move(const Pointer& p, bool pressed) {
  if (!pressed || !begin_) return;
  if (const auto at = meetPlane(p.ray, height_)) end_ = *at;
}

std::optional<Box2> ScopeTool::dragged() const {
  if (!begin_) return std::nullopt;
  Box2 made;
  if (side_ < 0) {
    made.add(plan(*begin_)), made.add(plan(end_));
  } else {
    made = box();
    const int axis = side_ / 2;
    const double to = plan(end_)[axis];
    if (side_ % 2)
      made.max[axis] = std::max(to, made.min[axis] + kLeastSide);
    else
      made.min[axis] = std::min(to, made.max[axis] - kLeastSide);
  }
  return made;
}

void ScopeTool::release(const Pointer& p) {
  move(p, true);
  const auto made = dragged();
  begin_.reset(), side_ = -1;
  if (made && made->max.x - made->min.x >= kLeastSide && made->max.y - made->min.y >= kLeastSide)
    workspace_.setScope({generate::Scope::Kind::box, *made});
}

bool ScopeTool::giveUp() {
  side_ = -1;
  return std::exchange(begin_, std::nullopt).has_value();
}

/// The squares that the box touches, as one: these are built.
Box2 ScopeTool::built(const Box2& box) const {
  const double size = ground::chunkSize(workspace_.agentKind());
  return {ground::chunkBox(ground::chunkAt(box.min, size), size).min, ground::chunkBox(ground::chunkAt(box.max, size), size).max};
}

void ScopeTool::draw(DrawList& list) const {
  const Box2 shown = dragged().value_or(box());
  if (shown.empty()) return;
  const std::uint32_t ink = packed(theme().accent, 1);
  eachSide(shown, height_ + kOver, [&](const Vec3& a, const Vec3& b) { list.line(a, b, 3, ink); });
  eachSide(built(shown), height_ + kOver,
           [&](const Vec3& a, const Vec3& b) { list.dashed(a, b, std::max(kDash, glm::distance(a, b) / kMostDashes), 2, ink); });
  if (camera_ && !begin_) drawHandles(handles(), *camera_, side_, list);
}

}  // namespace dune::window
