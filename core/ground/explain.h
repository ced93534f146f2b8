#pragma once
// Why there is, or is not, ground at a place, with the measured number against the limit.

#include "core/ground/clearance.h"

namespace dune::ground {

enum class Verdict : std::uint8_t {
  walkable,
  noSurface,
  notGround,
  outsideBounds,
  tooSteep,
  insideSolid,
  headroom,
  nearWall,
  nearCeiling,
  nearEnd,
  nearBounds
};

struct Explanation {
  Verdict verdict = Verdict::noSurface;
  Vec3 at{};             ///< the place on the surface that is explained
  double measured = 0;   ///< degrees or metres, by verdict
  double limit = 0;      ///< what it is measured against, the same unit
  std::string object;    ///< the object that decides, or that is stood on
  std::string surface;   ///< the object whose surface it is; empty without a surface
  double rise = 0;       ///< nearEnd: height of the next surface beyond the edge against this one, metres; NaN when there is none
  std::string sentence;  ///< all of it in one sentence
};

/// The name of a verdict in files: "walkable", "too-steep" …
const char* verdictName(Verdict verdict);

/// Explains the surface nearest to `at` in height. O(triangles and limits near it).
Explanation explain(const Standing& standing, const Clearance& clearance, const Vec3& at);

}  // namespace dune::ground
