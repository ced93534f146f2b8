#pragma once
// A box of the plan that is dragged from corner to corner on the ground.

#include "core/base/plan_geometry.h"
#include "window/scene/tool.h"

namespace dune::window {

class BoxDrag {
 public:
  /// The height of the ground where it begins is that of the box.
  void begin(const Vec3& at) { begin_ = end_ = at; }
  void drag(const Pointer& p);
  bool going() const { return begin_.has_value(); }
  double height() const { return begin_ ? begin_->y : 0; }
  /// What the drag has spanned; empty when none goes on.
  Box2 box() const;
  /// Ends it; false when there was none.
  bool end() { return std::exchange(begin_, std::nullopt).has_value(); }

 private:
  std::optional<Vec3> begin_;
  Vec3 end_{};
};

/// The corners of a box in the plan, the way round that outlines go.
Polygon cornersOf(const Box2& box);
/// Draws the sides of a box at a height: as dashes of a length, or as lines when that is 0.
void drawBox(DrawList& list, const Box2& box, double height, double width, double dash, std::uint32_t ink);

}  // namespace dune::window
