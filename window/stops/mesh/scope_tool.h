#pragma once
// The box that alone is built: dragged from corner to corner, and changed by the dots on its sides.

#include "window/scene/box_drag.h"
#include "window/scene/handle_tool.h"
#include "window/session/workspace.h"

namespace dune::window {

class ScopeTool : public HandleTool {
 public:
  explicit ScopeTool(Workspace& workspace) : workspace_(workspace) {}
  QString hint() const override;
  bool press(const Pointer& p) override;
  void drag(const Pointer& p) override;
  void drop(const Pointer& p) override;
  bool giveUp() override;
  void draw(DrawList& list, const Camera& camera) const override;
  bool aims() const override { return true; }

 protected:
  std::vector<Handle> handles() const override;
  void begin(int side, const Pointer& p) override;
  void dragHandle(int side, const Pointer& p) override;

 private:
  const Box2& box() const { return workspace_.grounds().scope().box; }
  Box2 built(const Box2& box) const;

  Workspace& workspace_;
  double height_ = 0;  // of the ground that it was drawn on, metres
  BoxDrag drawn_;
  std::optional<Box2> dragged_;  // the box as the drag of a side has made it
};

}  // namespace dune::window
