#pragma once
// A kind of agent that flies: its body, where it may be, and how it moves.

#include <algorithm>
#include <optional>
#include <string>

#include "core/base/bounds.h"
#include "core/base/result.h"

namespace dune::flight {

struct Flyer {
  std::string name = "flyer";
  double radius = 0.5;      ///< of the body to the sides, metres
  double halfHeight = 0.4;  ///< of the body up and down from its middle, metres
  double leastHeight = 0;   ///< of its underside over the ground, metres; 0: any
  double mostHeight = 0;    ///< likewise; 0: any
  double speed = 6;         ///< top speed, metres a second
  double leastSpeed = 0;    ///< metres a second; 0: it hovers
  double acceleration = 5;  ///< metres a second squared
  double turnRate = 120;    ///< degrees a second
  double climbRate = 3;     ///< up and down, metres a second
  double mostBank = 35;     ///< leaning to the side in a turn, degrees
  double mostPitch = 30;    ///< leaning forward and back, degrees
  bool turnsFirst = false;  ///< whether it turns towards where it goes before it goes
  double passWithin = 1;    ///< how near to a waypoint counts as passed, metres
  double arriveWithin = 0.3;

  bool keepsHeight() const { return leastHeight > 0 || mostHeight > 0; }
  bool hovers() const { return leastSpeed <= 0; }
  /// The radius of its smallest circle, metres; 0 where it hovers.
  double turningCircle() const { return leastSpeed / std::max(radians(turnRate), 1e-3); }
  /// By what heights are stretched so that the body is a ball.
  double stretch() const { return radius / halfHeight; }
  Vec3 stretched(const Vec3& p) const { return {p.x, p.y * stretch(), p.z}; }
  Box3 stretched(const Box3& b) const { return {stretched(b.min), stretched(b.max)}; }
  Vec3 real(const Vec3& p) const { return {p.x, p.y / stretch(), p.z}; }
  bool operator==(const Flyer&) const = default;
};

/// The first value that makes no sense, said with the range that does.
std::optional<Problem> checkFlyer(const Flyer& flyer);

}  // namespace dune::flight
