#pragma once
// The tools of area volumes: one drags a box on the ground, one changes the chosen volume by its corners and its top.

#include <functional>

#include "window/scene/box_drag.h"
#include "window/scene/handle_tool.h"
#include "window/session/workspace.h"

namespace dune::window {

class BoxTool : public Tool {
 public:
  /// `ground`: the height where the drag began.
  using Done = std::function<void(const Polygon& outline, double ground)>;
  explicit BoxTool(Done done) : done_(std::move(done)) {}
  QString hint() const override;
  bool press(const Pointer& p) override;
  void drag(const Pointer& p) override { box_.drag(p); }
  void drop(const Pointer& p) override;
  bool giveUp() override { return box_.end(); }
  void draw(DrawList& list, const Camera& camera) const override;
  bool holding() const override { return true; }

 private:
  Done done_;
  BoxDrag box_;
};

class VolumeTool : public HandleTool {
 public:
  explicit VolumeTool(Workspace& workspace) : workspace_(workspace) {}
  QString hint() const override;

 protected:
  std::vector<Handle> handles() const override;
  void begin(int handle, const Pointer& p) override;
  void dragHandle(int handle, const Pointer& p) override;

 private:
  Workspace& workspace_;
  level::AreaVolume before_;
};

}  // namespace dune::window
