#pragma once
// Why there is, or is not, ground at a place, with the measured number against the limit.

#include <limits>

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
  nearBounds,
  forbidden,  ///< ground of a kind on which the agent may not walk
  unbuilt,    ///< where the last build did not look
  unreached   ///< on ground that no seed reaches; known only with a mesh
};

/// One thing of several that decide about a place, with what would have to change for it not to forbid it.
struct Hindrance {
  Verdict verdict = Verdict::walkable;
  double measured = 0, limit = 0;  ///< degrees or metres, by verdict
  std::string object;              ///< that is in the way, or that is stood on; empty for the bounds
  std::string brief;               ///< what is so: "the slope of dune_3 is 52.0°"
  std::string held;                ///< against what, to follow it: " against 45.0°"; may be empty
  std::string change;              ///< "a slope limit of 52.0°", "a radius of 0.31 m, or moving crate_12"
  /// nearEnd: height of the next surface beyond the edge against this one, metres; NaN when there is none.
  double rise = std::numeric_limits<double>::quiet_NaN();

  std::string clause() const { return brief + held; }
};

struct Explanation {
  Vec3 at{};                   ///< the place on the surface that is explained
  std::string surface;         ///< the object whose surface it is; empty without a surface
  std::vector<Hindrance> all;  ///< all that forbids it, what says most first; empty where it is walkable
  Hindrance decides;           ///< the first of them; where it is walkable, the room around against the radius, at most 10 m
  std::string sentence;        ///< what decides, in one sentence

  std::optional<Hindrance> upright;  ///< of an agent that crouches, where it must: why it cannot stand upright

  bool walkable() const { return all.empty(); }
};

/// The name of a verdict in files: "walkable", "too-steep" …
const char* verdictName(Verdict verdict);

/// Explains the surface nearest to `at` in height. O(triangles and limits near it).
Explanation explain(const Standing& standing, const Clearance& clearance, const Vec3& at);

}  // namespace dune::ground
