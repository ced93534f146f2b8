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
  const Camera* camera = nullptr;
  std::optional<Thing> thing{};  ///< that is drawn there; known of presses and clicks
};

class Tool {
 public:
  virtual ~Tool() = default;
  /// One sentence: what to do next.
  virtual QString hint() const = 0;
  /// The button goes down. True when the tool follows until it goes up again; otherwise what is drawn there is chosen, and a drag turns
  /// the view.
  virtual bool press(const Pointer& p) = 0;
  virtual void drag(const Pointer&) {}
  virtual void drop(const Pointer&) {}
  /// The mouse moves with no button down.
  virtual void hover(const Pointer&) {}
  /// Shift and the wheel: what is placed goes up or down; false where that means nothing, so that the view zooms.
  virtual bool raise(const Pointer&, double) { return false; }
  /// Enter or double click: ends what was begun with clicks; false when nothing was.
  virtual bool finish() { return false; }
  /// Gives up what was begun; false when nothing was, so that the tool itself is left.
  virtual bool giveUp() { return false; }
  virtual void draw(DrawList&, const Camera&) const {}
  /// What is drawn over everything: that which the mouse can take hold of.
  virtual void drawOver(DrawList&, const Camera&) const {}
  /// A press that was not taken went up again where it went down, over nothing that can be chosen as a whole.
  virtual void click(const Pointer&) {}
  /// Whether it wants a place in the world, rather than something that is there already.
  virtual bool aims() const { return true; }
  /// Whether the mouse holds something, so that nothing else is shown under it.
  virtual bool holding() const { return false; }
};

}  // namespace dune::window
