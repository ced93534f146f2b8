#pragma once
// What a stand-in stands for, drawn around the place that is looked at; the stand-in is drawn around it.

#include <algorithm>

#include "window/scene/camera.h"
#include "window/scene/layer.h"

namespace dune::window {

class NearLayer {
 public:
  NearLayer(WorldView& view, Layer& whole, LayerOrder order) : whole_(whole), near_(view, order) {}
  /// Draws a list within a box of the plan.
  void set(const Box2& box, DrawList list) {
    // They overlap a little, so that no seam is seen.
    const Vec2 overlap = (box.max - box.min) * 0.01;
    whole_.setClip(Clip::outside, {box.min + overlap, box.max - overlap});
    near_.set(std::move(list));
    near_.setClip(Clip::inside, box);
    drawn_ = true;
  }
  /// The stand-in everywhere.
  void clear() {
    if (!std::exchange(drawn_, false)) return;
    whole_.setClip(Clip::none);
    near_.clear();
  }

 private:
  Layer& whole_;
  Layer near_;
  bool drawn_ = false;
};

/// What is found in as wide a box as the picture, or in as much of its middle as can be drawn. `guess`: how much that may be, metres,
/// where looking for far more takes long.
template <class Within>
auto aroundTarget(const Camera& camera, Box2& box, double guess, Within&& within) {
  constexpr double kLess = 0.7, kLeast = 0.5;
  const Vec2 middle = plan(camera.target());
  const auto square = [&](double reach) { return Box2{middle - reach, middle + reach}; };
  double reach = std::min(guess, camera.distance());
  auto found = within(square(reach));
  while (!found && reach >= kLeast) found = within(square(reach *= kLess));
  while (found && reach < camera.distance()) {
    const double wider = std::min(reach / kLess, camera.distance());
    auto more = within(square(wider));
    if (!more) break;
    found = std::move(more), reach = wider;
  }
  box = square(reach);
  return found;
}

}  // namespace dune::window
