#pragma once
// A tool that clicks the corners of an outline on the ground, one after the other.

#include <functional>
#include <vector>

#include "window/scene/tool.h"

namespace dune::window {

class OutlineTool : public Tool {
 public:
  /// Where a pointer puts a corner; `corners` are those that are there.
  using Place = std::function<std::optional<Vec3>(const Pointer& p, const std::vector<Vec3>& corners)>;
  using Done = std::function<void(const std::vector<Vec3>& corners)>;
  OutlineTool(Place place, Done done) : place_(std::move(place)), done_(std::move(done)) {}

  QString hint() const override;
  bool press(const Pointer& p) override;
  void hover(const Pointer& p) override;
  bool finish() override;
  bool giveUp() override;
  void draw(DrawList& list, const Camera& camera) const override;
  bool holding() const override { return true; }

 private:
  Place place_;
  Done done_;
  std::vector<Vec3> corners_;
  Vec3 next_{};
};

}  // namespace dune::window
