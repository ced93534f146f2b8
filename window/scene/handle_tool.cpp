#include "window/scene/handle_tool.h"

#include <utility>

namespace dune::window {

bool HandleTool::press(const Pointer& p) {
  active_ = kNone;
  const std::vector<Handle> all = handles();
  if (const Handle* h = handleNear(all, *p.camera, p.pixel)) {
    take(h->id, p);
    return true;
  }
  return pressBeside(p);
}

void HandleTool::drag(const Pointer& p) {
  if (active_ != kNone) dragHandle(active_, p);
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
