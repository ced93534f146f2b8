#pragma once
// An agent kind: the limits its ground is built under and how it moves.

#include <optional>
#include <string>

#include "core/base/result.h"

namespace dune::nav {

struct Agent {
  std::string name = "default";
  double radius = 0.4;         ///< of the body, metres
  double height = 1.8;         ///< headroom it needs, metres
  double maxSlope = 45;        ///< steepest ground it stands on, degrees
  double stepHeight = 0.4;     ///< highest rise it walks over, metres
  double maxDrop = 0;          ///< deepest drop, metres; 0: it never drops
  double maxJump = 0;          ///< widest gap, metres; 0: it never jumps
  double maxRise = 0.5;        ///< how much higher than where it jumps from it may land, metres
  double speed = 1.4;          ///< top speed, metres a second
  double acceleration = 4;     ///< metres a second squared
  double turnRate = 240;       ///< degrees a second
  double arriveWithin = 0.15;  ///< how near to the goal counts as arrived, metres
  double passWithin = 0.05;    ///< how near to a waypoint counts as passed, metres
  double originHeight = 0;     ///< of the body's origin over its feet, metres; places that go out and come in are of the origin
  bool tilts = false;          ///< whether the body leans with the ground

  double crouchHeight = 0;  ///< headroom it needs crouching, metres; 0: it never crouches
  double crouchCost = 2;    ///< per metre of ground that it must crouch on

  bool crouches() const { return crouchHeight > 0; }
  /// Of an agent that crouches: one that is as low as that everywhere; else itself.
  Agent crouching() const {
    Agent low = *this;
    if (crouches()) low.height = crouchHeight;
    return low;
  }
  bool operator==(const Agent&) const = default;
};

/// The first limit that makes no sense, said with the range that does.
std::optional<Problem> checkAgent(const Agent& agent);

}  // namespace dune::nav
