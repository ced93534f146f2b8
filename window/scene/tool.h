#pragma once
// What the left mouse button does in the world. One tool is in use at a time; each says what to do next.

#include <QPointF>
#include <QString>
#include <optional>

#include "window/scene/draw_list.h"
#include "window/scene/picking.h"

namespace dune::window {

/// Where the mouse is: on the screen, and what it points at.
struct Pointer {
  QPointF pixel;
  Ray ray;
  std::optional<Picked> hit;
  Qt::KeyboardModifiers modifiers;
  double cutAway;  ///< what lies above this height cannot be pointed at
};

class Tool {
 public:
  virtual ~Tool() = default;
  /// One sentence: what to do next.
  virtual QString hint() const = 0;
  virtual void press(const Pointer&) {}
  virtual void move(const Pointer&, bool /*pressed*/) {}
  virtual void release(const Pointer&) {}
  virtual void finish() {}  ///< Enter or double click
  /// Esc: gives up what was begun; false when nothing was, so that the tool itself is left.
  virtual bool giveUp() { return false; }
  virtual void draw(DrawList&) const {}
  /// Delete: takes away what is chosen; false when nothing is.
  virtual bool remove() { return false; }
  /// Whether the mouse holds something, so that nothing else is shown under it.
  virtual bool holding() const { return false; }
  void setCamera(const Camera* camera) { camera_ = camera; }

 protected:
  const Camera* camera_ = nullptr;  ///< of the view that uses the tool, while it does
};

}  // namespace dune::window
