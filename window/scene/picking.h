#pragma once
// What a ray from the eye meets first in a level. No GL.

#include <optional>

#include "core/level/level.h"
#include "window/scene/camera.h"

namespace dune::window {

struct Picked {
  Vec3 at;
  std::size_t object;  ///< index into Level::objects
};

/// The nearest triangle below the cut-away height that the ray meets; O(triangles) with a box test an object.
std::optional<Picked> pick(const level::Level& level, const Ray& ray, double cutAway);
/// Where a ray meets the horizontal plane at height y.
std::optional<Vec3> meetPlane(const Ray& ray, double y);

}  // namespace dune::window
