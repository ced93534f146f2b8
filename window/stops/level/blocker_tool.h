#pragma once
// The tools of blockers: one places them with clicks, one drags the chosen one by its handles.

#include "window/scene/handle_tool.h"
#include "window/session/workspace.h"

namespace dune::window {

/// Where the mouse meets the level itself, not the blockers, for a blocker never stands on itself; beside it, a plane at a height.
std::optional<Vec3> groundAt(Workspace& workspace, const Pointer& p, double height);

class PlaceTool : public Tool {
 public:
  using Placing = std::function<std::optional<level::Blocker>()>;
  using Place = std::function<void(const level::Blocker&)>;
  PlaceTool(Workspace& workspace, Placing placing, Place place)
      : workspace_(workspace), placing_(std::move(placing)), place_(std::move(place)) {}
  QString hint() const override;
  bool press(const Pointer& p) override;
  void hover(const Pointer& p) override { at_ = groundAt(workspace_, p, 0); }
  bool giveUp() override { return at_.reset(), false; }
  bool holding() const override { return true; }
  /// The blocker as it would stand where the mouse is.
  void draw(DrawList& list, const Camera& camera) const override;

 private:
  Workspace& workspace_;
  Placing placing_;
  Place place_;
  std::optional<Vec3> at_;  // under the mouse
};

class BlockerTool : public HandleTool {
 public:
  explicit BlockerTool(Workspace& workspace) : workspace_(workspace) {}
  QString hint() const override;
  void drawOver(DrawList& list, const Camera& camera) const override;

  enum HandleId { middle, top, plusX, minusX, plusZ, minusZ, turn, firstCorner };
  static std::vector<Handle> handlesOf(const level::Blocker& blocker);

 private:
  static std::vector<Handle> allHandles(const level::Blocker& blocker);

 protected:
  std::vector<Handle> handles() const override;
  void begin(int handle, const Pointer& p) override;
  void dragHandle(int handle, const Pointer& p) override;
  bool pressBeside(const Pointer& p) override;

 private:
  std::optional<level::Blocker> moved(const Pointer& p) const;
  std::optional<level::Blocker> turned(const Pointer& p) const;
  std::optional<level::Blocker> withCorner(int corner, const Pointer& p) const;
  level::Blocker resized(int handle, const Pointer& p) const;

  Workspace& workspace_;
  level::Blocker before_;  // as it was when the drag began
  Vec3 grip_{};            // from the blocker's place to where it was taken
};

}  // namespace dune::window
