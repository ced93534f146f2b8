#include "window/scene/handle_tool.h"

#include <QLineF>
#include <utility>

namespace dune::window {

namespace {
constexpr double kSlip = 3;  // pixels that a hand moves in a click
}

bool HandleTool::press(const Pointer& p) {
  active_ = kNone;
  const std::vector<Handle> all = handles();
  if (const Handle* h = handleNear(all, *p.camera, p.pixel)) {
    take(h->id, p);
    return true;
  }
  return pressBeside(p);
}

void HandleTool::take(int handle, const Pointer& p) {
  pressed_ = p.pixel, dragged_ = false;
  begin(active_ = handle, p);
}

void HandleTool::drag(const Pointer& p) {
  if (active_ == kNone) return;
  dragged_ = dragged_ || QLineF(pressed_, p.pixel).length() > kSlip;
  if (dragged_) dragHandle(active_, p);
}

void HandleTool::drop(const Pointer&) { active_ = kNone; }

void HandleTool::hover(const Pointer& p) {
  const std::vector<Handle> all = handles();
  const Handle* h = handleNear(all, *p.camera, p.pixel);
  near_ = h ? h->id : kNone;
}

bool HandleTool::giveUp() { return std::exchange(active_, kNone) != kNone; }

QString HandleTool::tip() const {
  for (const Handle& h : handles())
    if (h.id == (active_ != kNone ? active_ : near_)) return h.tip;
  return {};
}

void HandleTool::drawOver(DrawList& list, const Camera& camera) const {
  const std::vector<Handle> all = handles();
  drawHandles(all, camera, active_ != kNone ? active_ : near_, list);
}

}  // namespace dune::window
