#pragma once
// Where an agent's centre line can stand, asked at single points, exactly.
//
// A place can be stood on when a triangle of a ground object lies there, not steeper than the slope limit, within the
// bounds, not inside a closed solid, and with nothing in the headroom straight above it. Distances to walls and edges are
// another question: see limits.h.

#include <algorithm>
#include <cmath>
#include <optional>
#include <string>

#include "core/base/plan_geometry.h"
#include "core/ground/soup.h"
#include "core/nav/agent.h"

namespace dune::ground {

/// How much the steepest ground that an agent walks on rises in a metre; not endlessly where that is upright.
inline double steepestRise(const nav::Agent& agent) { return std::tan(std::min(radians(agent.maxSlope), 1.5)); }

/// Why a surface cannot be stood on; the order is the order in which it is asked.
enum class Reason : std::uint8_t { none, notGround, outsideBounds, tooSteep, insideSolid, cut, headroom };

struct Surface {
  double y;                ///< metres
  std::uint32_t triangle;  ///< index into Soup::triangles()
  Reason reason;
  double measured;   ///< slope in degrees or headroom in metres, by reason
  std::uint32_t by;  ///< the triangle that is in the way, for insideSolid, cut and headroom
  bool owned;        ///< whether the triangle owns the point (Triangle::owns): each crossing is owned once
};

class Standing {
 public:
  /// Keeps references: soup, world and agent must outlive it.
  Standing(const Soup& soup, const level::World& world, const nav::Agent& agent);

  /// Every surface over q from low to high, each with its first reason. O(triangles of one cell squared, small).
  void surfaces(const Vec2& q, std::vector<Surface>& out) const;
  /// All that forbids standing on a surface over q, one entry a reason; empty when nothing does.
  std::vector<Surface> allReasons(const Vec2& q, const Surface& surface) const;
  /// Only those that can be stood on; of these, those at some heights. O(n log n) in the surfaces over q.
  void standable(const Vec2& q, std::vector<Surface>& out) const;
  void standable(const Vec2& q, const Interval& heights, std::vector<Surface>& out) const;
  /// The height that can be stood on over q nearest to y, within `reach`; NaN when there is none.
  double nearest(const Vec2& q, double y, double reach) const;

  /// Whether a triangle that lies over q can be stood on there; and whether it could if it were not too steep.
  bool stands(const Vec2& q, std::uint32_t triangle) const;
  /// The same for many places one beside the other: `over` is what was in the way overhead last, and is tried first.
  bool stands(const Vec2& q, std::uint32_t triangle, std::uint32_t& over) const;
  static constexpr std::uint32_t kNothing = 0xffffffffU;
  bool standsButForSlope(const Vec2& q, std::uint32_t triangle) const;

  /// The triangles over one place that matter to surfaces between two heights. They answer for places nearby too, as long as no edge of
  /// theirs lies between.
  struct Over {
    std::uint32_t triangle;
    bool owned;
  };
  using Stack = std::vector<Over>;
  void stackAt(const Vec2& q, const Interval& heights, Stack& stack) const;
  /// nearest(), asked of a stack.
  double nearest(const Stack& stack, const Vec2& q, double y, double reach) const;
  /// The surface that nearest() answers with.
  std::optional<Surface> nearestSurface(const Stack& stack, const Vec2& q, double y, double reach) const;
  /// Whether a triangle's own properties allow standing: role, slope, and not being the underside of a solid.
  bool walkable(const Triangle& t) const { return t.role == level::Role::ground && t.slope <= maxSlope_ && !t.underside; }

  const Soup& soup() const { return soup_; }
  const nav::Agent& agent() const { return agent_; }
  const level::World& world() const { return world_; }

 private:
  void heights(const Stack& stack, const Vec2& q, std::vector<Surface>& out) const;
  bool mayStand(const Surface& s, const Vec2& q, const std::vector<Surface>& column, std::uint32_t* over = nullptr) const;
  bool tooLow(double room) const;
  void column(const Stack& stack, const Vec2& q, std::vector<Surface>& out) const;
  /// Visits each reason in order, with its number and the triangle that is in the way, until the visitor returns true.
  template <class Visit>
  void eachReason(const Surface& s, const Vec2& q, const std::vector<Surface>& column, Visit&& visit) const;
  void judge(Surface& s, const Vec2& q, const std::vector<Surface>& column) const;
  /// The closed pieces that one is in, of which an odd number of crossings was added.
  class Crossings {
   public:
    void clear() { in_.clear(); }
    void add(const Surface& surface, const Soup& soup);
    bool inside() const { return !in_.empty(); }
    bool inside(std::int64_t solid) const { return std::ranges::count(in_, solid) > 0; }

   private:
    std::vector<std::int64_t> in_;
  };
  const Surface* cutter(const Surface& s, const std::vector<Surface>& column) const;
  const Surface* solidAround(const Surface& s, const std::vector<Surface>& column) const;

  const Soup& soup_;
  const level::World& world_;
  const nav::Agent& agent_;
  double maxSlope_;
};

}  // namespace dune::ground
