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
  cut,
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

/// One thing of several that forbid a place, with what would have to change for it not to.
struct Hindrance {
  Verdict verdict;
  double measured, limit;  ///< degrees or metres, by verdict
  std::string object;      ///< that is in the way; empty for the bounds
  std::string sentence;    ///< "The slope of dune_3 is 52.0° against 45.0°."
  std::string change;      ///< "a slope limit of 52.0°", "a radius of 0.31 m, or moving crate_12"
};

/// The name of a verdict in files: "walkable", "too-steep" …
const char* verdictName(Verdict verdict);

/// Explains the surface nearest to `at` in height. O(triangles and limits near it).
Explanation explain(const Standing& standing, const Clearance& clearance, const Vec3& at);
/// Everything that forbids the surface nearest to `at`, the nearest limits first; empty where the agent can stand.
std::vector<Hindrance> hindrances(const Standing& standing, const Clearance& clearance, const Vec3& at);

}  // namespace dune::ground
