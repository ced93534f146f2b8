#pragma once
// The limits of the ground: every line or patch in plan that an agent's centre must keep its radius from.
//
// Two families, both measured on the true triangles, never on samples:
//  * obstacles: the part of a triangle that stands above ground it belongs over, higher than the step height and lower
//    than the agent's height (for objects that are obstacles only: anything above the ground);
//  * ends: where ground stops and no ground goes on within the step height: open edges, foot lines of steep faces, the
//    border of the playable bounds.
// A limit counts for ground at about its own height only, so storeys do not disturb each other.

#include "core/base/job.h"
#include "core/ground/standing.h"

namespace dune::ground {

enum class LimitKind : std::uint8_t { wall, ceiling, end, bounds };

struct Limit {
  LimitKind kind;
  Polygon shape;         ///< plan: one point, a segment, or a convex counter-clockwise polygon
  double low, high;      ///< height of the ground at the shape, metres
  std::uint32_t object;  ///< the object that limits; for ends the object of the ground that stops
  double measured;       ///< ceiling: headroom over the ground, metres; otherwise 0

  /// Whether the limit counts for ground at height y, for an agent of this height.
  bool countsAt(double y, double agentHeight) const { return y > low - agentHeight * kReach && y < high + agentHeight * kReach; }
  static constexpr double kReach = 0.98;  // two storeys that can both be stood on are a whole agent height apart
};

/// A line over which ground goes on a step higher or lower.
struct StepLine {
  Vec2 a, b;         ///< plan; the lower ground is on the right of a → b
  double low, high;  ///< least and greatest height of the upper ground along it, metres
};

struct Limits {
  std::vector<Limit> limits;
  std::vector<StepLine> steps;
};

/// Finds all limits, and adds to `soup` the bridges over gaps up to the world's joining distance.
/// Same input, same order, for any number of threads. Fails only when cancelled.
Result<Limits> findLimits(Soup& soup, const level::World& world, const level::Agent& agent, Job& job);

}  // namespace dune::ground
