#pragma once
// Who takes what the mouse and the keys do in the world. The view by itself only turns, moves and zooms.

#include "window/scene/tool.h"

namespace dune::window {

class Hand {
 public:
  virtual ~Hand() = default;
  /// True when it follows until the button goes up; otherwise a drag turns the view.
  virtual bool press(const Pointer& p, Qt::MouseButton button) = 0;
  virtual void drag(const Pointer& p) = 0;
  virtual void drop(const Pointer& p) = 0;
  virtual void hover(const Pointer& p) = 0;
  /// A press that was not taken went up again where it went down.
  virtual void click(const Pointer& p, Qt::MouseButton button) = 0;
  /// True when it meant something; otherwise it is told to others.
  virtual bool doubleClick(const Pointer& p) = 0;
  virtual bool key(int key) = 0;
  /// Shift and the wheel, in notches away from the person; true when it meant something.
  virtual bool raise(const Pointer& p, double notches) = 0;
  virtual void draw(DrawList& list, const Camera& camera) const = 0;
  /// What nothing hides.
  virtual void drawOver(DrawList& list, const Camera& camera) const = 0;
};

}  // namespace dune::window
