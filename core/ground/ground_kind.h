#pragma once
// Of which kind the ground at a place is.

#include "core/ground/standing.h"

namespace dune::ground {

/// Who says what kind the ground at a place is: a volume, else the surface that one stands on there, else nobody.
struct KindAt {
  std::size_t number = 0;  ///< of the kind
  const level::AreaVolume* volume = nullptr;
  std::uint32_t triangle = Standing::kNothing;  ///< index into Soup::triangles()
};

/// O(volumes) and the triangles over the place.
KindAt kindAt(const Standing& standing, const Vec3& at);

}  // namespace dune::ground
