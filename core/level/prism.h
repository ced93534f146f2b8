#pragma once
// Outlines in plan as triangles of an object: flat sheets, and closed solids that stand on them.

#include <span>

#include "core/base/plan_geometry.h"
#include "core/level/level.h"

namespace dune::level {

/// The triangles of an outline, either way round, as numbers of its corners; those turn left. Ears are cut off one by one (Meisters
/// 1975); O(n²) as a rule. There are fewer than n - 2 where it crosses itself.
std::vector<std::array<std::uint32_t, 3>> trianglesOf(std::span<const Vec2> outline);

/// Adds a flat sheet that looks up.
void addSheet(Object& object, std::span<const Vec2> outline, double y);
/// Adds a closed solid with upright sides.
void addPrism(Object& object, std::span<const Vec2> outline, double bottom, double top);

}  // namespace dune::level
