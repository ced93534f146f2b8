#include "window/scene/box_tool.h"

#include "window/scene/theme.h"

namespace dune::window {

namespace {
constexpr double kLeastSide = 0.2;  // metres
}

QString BoxTool::hint() const {
  return box_.going() ? QObject::tr("Let go at the opposite corner.")
                      : QObject::tr("Drag from corner to corner to mark a box on the ground. Esc leaves the tool.");
}

bool BoxTool::press(const Pointer& p) {
  if (p.hit) box_.begin(p.hit->at);
  return true;
}

void BoxTool::drop(const Pointer& p) {
  drag(p);
  const Box2 made = box_.box();
  const double ground = box_.height();
  if (box_.end() && made.max.x - made.min.x > kLeastSide && made.max.y - made.min.y > kLeastSide) done_(cornersOf(made), ground);
}

void BoxTool::draw(DrawList& list, const Camera&) const {
  if (box_.going()) drawBox(list, box_.box(), box_.height() + 0.05, 3, 0, packed(theme().accent, 1));
}

}  // namespace dune::window
