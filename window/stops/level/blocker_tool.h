#pragma once
// Places blockers with clicks, and drags the chosen one by its handles.

#include "window/scene/handles.h"
#include "window/stops/level/blockers_page.h"

namespace dune::window {

class BlockerTool : public Tool {
 public:
  BlockerTool(BlockersPage& page, Workspace& workspace) : page_(page), workspace_(workspace) {}
  QString hint() const override;
  void press(const Pointer& p) override;
  void move(const Pointer& p, bool pressed) override;
  void release(const Pointer& p) override;
  void finish() override;
  bool giveUp() override;
  bool remove() override;
  void draw(DrawList& list) const override;
  bool holding() const override { return active_ >= 0 || page_.placing().has_value(); }

  enum HandleId { middle, top, plusX, minusX, plusZ, minusZ, turn, firstCorner };
  static std::vector<Handle> handlesOf(const level::Blocker& blocker);

 private:
  /// Where the mouse meets the level; beside it, the plane of what is drawn.
  std::optional<Vec3> groundAt(const Pointer& p) const;
  void dragCorner(const Pointer& p);
  void pressPlacing(const Pointer& p);
  void drag(const Pointer& p);

  BlockersPage& page_;
  Workspace& workspace_;
  std::vector<Vec3> corners_;  // of the outline that is drawn, so far
  Vec3 next_{};
  int active_ = -1, near_ = -1;
  level::Blocker before_;  // as it was when the drag began
  Vec3 grip_{};            // from the blocker's place to where it was taken
};

}  // namespace dune::window
