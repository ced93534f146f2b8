#pragma once
// A way as one body follows it: what it flies towards, and how fast it may.

#include "core/flight/fleet.h"
#include "core/flight/gates.h"

namespace dune::flight {

/// Where a body goes, and how it gets on.
struct Plan {
  std::vector<Vec3> way;              ///< metres
  std::vector<Gate> gates;            ///< along it
  std::size_t goal = 0;               ///< 0: the goal, then the round
  double left = 0;                    ///< least length that was left on this way
  double waited = 0;                  ///< seconds since that
  int tries = 0;                      ///< ways asked for in vain
  double alone = 0;                   ///< seconds for which it does not go back to its place beside its leader
  bool again = false;                 ///< another way is wanted
  bool partial = false;               ///< it does not lead to the goal, but as near as one gets
  bool lifts = false, lands = false;  ///< its first stretch is a take-off, its last one a landing

  /// Metres of the way from a place on, by the corner that comes next.
  double lengthFrom(const Vec3& at, std::size_t waypoint) const;
};

/// For one body, as it is at the begin of a step.
class Following {
 public:
  Following(const Space& space, const Plan& plan, const Airborne& now) : space_(space), plan_(plan), now_(now) {}

  /// Where it flies towards: as far ahead as it may pass waypoints, as long as it sees that place. `waypoint`: the corner that comes next,
  /// which it may have passed. `blind`: it does not even see that.
  Vec3 aim(std::size_t& waypoint, bool& blind) const;
  /// How fast it may be so that it still makes the corners that come, and stops at the end if it is to.
  double speed(std::size_t waypoint, bool stops) const;
  /// What is in its way: where it takes off and lands heights do not matter.
  Obstacles::Which inTheWay(std::size_t waypoint) const {
    return takesOff(waypoint) || (plan_.lands && waypoint + 1 == plan_.way.size()) ? Obstacles::Which::ofLevel : Obstacles::Which::all;
  }

 private:
  bool sees(const Vec3& to) const { return space_.passes(now_.at, to); }
  /// Whether it is yet to come up to where it may fly.
  bool takesOff(std::size_t waypoint) const { return plan_.lifts && waypoint == 1 && !space_.fits(space_.stretched(now_.at)); }
  /// Whether it is right over where it lands, and slow.
  bool isOver(const Vec3& place) const;
  /// The corner that it comes to before it lands; the last one where it does not.
  std::size_t end() const { return plan_.way.size() - 1 - (plan_.lands ? 1 : 0); }
  double distance(const Vec3& to) const { return glm::distance(now_.at, to); }
  /// The narrow place that comes next, for what must line up with it; null for what hovers.
  const Gate* gateBefore() const;
  /// The place on the way so far ahead of it.
  Vec3 ahead(std::size_t corner, double far) const;
  /// The fastest with which it makes a corner that turns by an angle, so far ahead.
  double speedBefore(double angle, double far) const;

  const Space& space_;
  const Plan& plan_;
  const Airborne& now_;
};

}  // namespace dune::flight
