#pragma once
// The limits of the ground: every line in plan that an agent's centre must keep its radius from.
//
// Two families, both measured on the true triangles, never on samples:
//  * obstacles: where a triangle stands above ground that it lies over, higher than the step height and lower than the
//    agent's height (for objects that are obstacles only: anything above the ground);
//  * ends: where ground stops and no ground goes on within the step height: open edges, foot lines of steep faces, the
//    border of the playable bounds.
// A limit is one-sided: it counts for places on its left, where the ground is that it limits. What stands on the other side, the
// treads of a stair beside the floor, say, is another ground with limits of its own. And it counts for ground at about its own
// height only, so storeys do not disturb each other.

#include "core/base/job.h"
#include "core/ground/standing.h"

namespace dune::ground {

enum class LimitKind : std::uint8_t { wall, ceiling, end, bounds };

struct Limit {
  LimitKind kind;
  Vec2 a, b;             ///< plan; the ground that it limits is on the left of a → b
  double ya, yb;         ///< height of that ground at a and b, metres; without meaning for the playable bounds
  std::uint32_t object;  ///< the object that limits; for ends the object of the ground that stops
  double measured;       ///< ceiling: headroom over the ground, metres; otherwise 0

  /// Height of the limited ground at the point of the limit nearest to q.
  double heightNear(const Vec2& q) const;
  /// Whether the limit counts at plan position q for ground at height y, for an agent of this height.
  bool countsAt(const Vec2& q, double y, double agentHeight) const {
    return kind == LimitKind::bounds || std::abs(y - heightNear(q)) < agentHeight * kReach;
  }
  /// Whether q lies on the limited side.
  bool facing(const Vec2& q) const { return cross(b - a, q - a) >= -kOnLine * glm::distance(a, b); }
  static constexpr double kReach = 0.98;   // two storeys that can both be stood on are a whole agent height apart
  static constexpr double kOnLine = 1e-6;  // metres
};

/// A line over which ground goes on a step higher or lower.
struct StepLine {
  Vec2 a, b;         ///< plan; the lower ground is on the right of a → b
  double low, high;  ///< least and greatest height of the upper ground along it, metres
  /// Whether more of it, long enough for a strip, lies in the chunk beyond this end. Not known where it was found.
  bool goesOnAtA = false, goesOnAtB = false;
};

/// A line along which ground bends up or down without a step.
struct FoldLine {
  Vec2 a, b;  ///< plan
  double y;   ///< height of its middle, metres
};

struct Limits {
  std::vector<Limit> limits;
  std::vector<StepLine> steps;
  std::vector<FoldLine> folds;
  std::vector<Bridge> bridges;  ///< to be added to the soup before anything else is asked of the ground
  void append(const Limits& more);
};

/// Finds what limits ground within a box of the plan; lines that go on beyond it are cut at its sides. The soup must hold all
/// triangles nearer to the box than haloFor(world, agent), and be welded. Fails only when cancelled.
Result<Limits> findLimits(const Soup& soup, const level::World& world, const nav::Agent& agent, const Box2& within, const Job& job);

/// How far around a box of the plan its ground depends on triangles, metres.
double haloFor(const level::World& world, const nav::Agent& agent);

}  // namespace dune::ground
