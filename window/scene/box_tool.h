#pragma once
// Drags a box on the ground, from corner to corner.

#include <functional>

#include "window/scene/box_drag.h"

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

}  // namespace dune::window
