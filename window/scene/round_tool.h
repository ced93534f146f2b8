#pragma once
// Drags something round on the ground, from its middle.

#include <functional>
#include <optional>

#include "window/scene/tool.h"

namespace dune::window {

constexpr double kLeastRadius = 0.1;  ///< metres
/// A regular outline that stands for a circle.
Polygon roundOutline(const Vec2& middle, double radius);
/// The radius of an outline that is one; nothing of any other.
std::optional<double> roundRadius(const Polygon& outline);

class RoundTool : public Tool {
 public:
  /// `ground`: the height where the drag began.
  using Done = std::function<void(const Polygon& outline, double ground)>;
  explicit RoundTool(Done done) : done_(std::move(done)) {}
  QString hint() const override;
  bool press(const Pointer& p) override;
  void drag(const Pointer& p) override;
  void drop(const Pointer& p) override;
  bool giveUp() override;
  void draw(DrawList& list, const Camera& camera) const override;
  bool holding() const override { return true; }

 private:
  Done done_;
  std::optional<Vec3> middle_;
  double radius_ = 0;
};

}  // namespace dune::window
