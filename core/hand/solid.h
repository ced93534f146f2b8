#pragma once
// What stands on ground that no generator measures: made by hand, or of a mesh from elsewhere. It takes that ground away as far as a body
// there would touch it.

#include "core/level/blocker.h"
#include "core/nav/agent.h"

namespace dune::hand {

/// Convex and upright, from its foot to a flat roof, which may lean.
struct Solid {
  std::vector<Vec3> roof;        ///< its corners, counter-clockwise seen from above
  double foot = 0;               ///< height of its foot
  std::optional<double> rise{};  ///< m over ground up to which it does not stand in the way; nothing: up to the step height
  int blocker = 0;               ///< id
};

/// A blocker as convex parts; none where it is ignored. O(n log n) in its corners.
std::vector<Solid> solidsOf(const level::Blocker& blocker);

/// The part of a face (convex, counter-clockwise, nearly flat) where a body on it would touch the solid: convex, at most 2 % of its radius
/// too far out. Empty where there is none. O(corners).
std::vector<Vec3> takenFrom(const std::vector<Vec3>& face, const Solid& solid, const nav::Agent& agent);

/// Whether a body at a place would touch it.
bool takes(const Solid& solid, const Vec3& at, const nav::Agent& agent);

}  // namespace dune::hand
