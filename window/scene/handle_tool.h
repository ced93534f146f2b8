#pragma once
// A tool that drags handles: the points by which a chosen thing is changed.

#include <vector>

#include "window/scene/handles.h"
#include "window/scene/tool.h"

namespace dune::window {

class HandleTool : public Tool {
 public:
  static constexpr int kNone = -1;

  bool press(const Pointer& p) override;
  void drag(const Pointer& p) override;
  void drop(const Pointer& p) override;
  void hover(const Pointer& p) override;
  bool giveUp() override;
  void drawOver(DrawList& list, const Camera& camera) const override;
  bool aims() const override { return false; }
  bool holding() const override { return active_ != kNone; }

 protected:
  /// Of what is chosen; none without.
  virtual std::vector<Handle> handles() const = 0;
  /// A handle was taken.
  virtual void begin(int handle, const Pointer& p) = 0;
  /// Makes the change for the mouse being here; what was there at the begin is changed, not what the last movement left.
  virtual void dragHandle(int handle, const Pointer& p) = 0;
  /// A press beside all handles; true when something was taken by take().
  virtual bool pressBeside(const Pointer&) { return false; }
  /// From now on a drag changes by this handle.
  void take(int handle, const Pointer& p);
  /// The mouse has left the place of the press: a click on a handle is no drag.
  bool dragged() const { return dragged_; }
  /// Of the handle under the mouse, or that is dragged: what it does; empty without one.
  QString tip() const;

 private:
  int active_ = kNone, near_ = kNone;
  QPointF pressed_;
  bool dragged_ = false;
};

}  // namespace dune::window
