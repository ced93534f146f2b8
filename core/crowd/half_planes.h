#pragma once
// The velocity nearest to a wanted one that keeps to half-planes: the small linear program of reciprocal avoidance.
//
// Source: van den Berg, Guy, Lin & Manocha, "Reciprocal n-body collision avoidance", ISRR 2011; the incremental solver is
// Seidel's as given in de Berg et al., "Computational Geometry", chapter 4. Half-planes keep their order, so answers repeat.

#include <vector>

#include "core/base/vec.h"

namespace dune::crowd {

/// Velocities to the left of the line through `point` along `direction` (unit) are allowed.
struct HalfPlane {
  Vec2 point, direction;
};

/// Velocities of at least so much along a direction of length 1.
inline HalfPlane atLeast(const Vec2& normal, double least) { return {normal * least, -leftOf(normal)}; }

/// The allowed velocity nearest to `wanted`, no faster than `most`. The first `hard` half-planes (walls) hold whatever the
/// others ask; when the rest cannot all be kept, the velocity that breaks them least. Expected O(planes).
Vec2 nearestAllowed(const std::vector<HalfPlane>& planes, std::size_t hard, const Vec2& wanted, double most);

}  // namespace dune::crowd
