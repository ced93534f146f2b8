#pragma once
// An agent kind: the limits its ground is built under and how it moves.

#include <optional>
#include <string>

#include "core/base/result.h"

namespace dune::level {

struct Agent {
  std::string name = "default";
  double radius = 0.4;         ///< of the body, metres
  double height = 1.8;         ///< headroom it needs, metres
  double maxSlope = 45;        ///< steepest ground it stands on, degrees
  double stepHeight = 0.4;     ///< highest rise it walks over, metres
  double maxDrop = 0;          ///< deepest drop, metres; 0: none
  double maxJump = 0;          ///< widest gap, metres; 0: none
  double speed = 1.4;          ///< top speed, metres a second
  double acceleration = 4;     ///< metres a second squared
  double turnRate = 240;       ///< degrees a second
  double arriveWithin = 0.15;  ///< how near to the goal counts as arrived, metres

  bool operator==(const Agent&) const = default;
};

/// The first limit that makes no sense, said with the range that does.
std::optional<Problem> checkAgent(const Agent& agent);

}  // namespace dune::level
