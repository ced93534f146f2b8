#pragma once
// The box that alone is built: dragged from corner to corner, and changed by the dots on its sides.

#include "window/scene/handles.h"
#include "window/scene/tool.h"
#include "window/session/workspace.h"

namespace dune::window {

class ScopeTool : public Tool {
 public:
  explicit ScopeTool(Workspace& workspace) : workspace_(workspace) {}
  QString hint() const override;
  void press(const Pointer& p) override;
  void move(const Pointer& p, bool pressed) override;
  void release(const Pointer& p) override;
  bool giveUp() override;
  void draw(DrawList& list) const override;

 private:
  const Box2& box() const { return workspace_.scope().box; }
  Box2 built(const Box2& box) const;
  std::vector<Handle> handles() const;
  /// The box as the drag has made it.
  std::optional<Box2> dragged() const;

  Workspace& workspace_;
  double height_ = 0;  // of the ground that it was drawn on, metres
  int side_ = -1;      // that is dragged
  std::optional<Vec3> begin_;
  Vec3 end_{};
};

}  // namespace dune::window
