#include "core/nav/agent.h"

#include "core/base/value_range.h"

namespace dune::nav {

std::optional<Problem> checkAgent(const Agent& a) {
  const ValueRange ranges[] = {
      {"radius", a.radius, 0.01, 100, "m"},
      {"height", a.height, 0.05, 1000, "m"},
      {"steepest slope", a.maxSlope, 0, 89, "°"},
      {"step height", a.stepHeight, 0, 100, "m"},
      {"deepest drop", a.maxDrop, 0, 1000, "m"},
      {"longest jump", a.maxJump, 0, 1000, "m"},
      {"highest jump", a.maxRise, 0, 1000, "m"},
      {"speed", a.speed, 0.01, 1000, "m/s"},
      {"acceleration", a.acceleration, 0.01, 10000, "m/s²"},
      {"turning rate", a.turnRate, 1, 100000, "°/s"},
      {"arrival distance", a.arriveWithin, 0, 100, "m"},
      {"waypoint distance", a.passWithin, 0, 100, "m"},
      {"height of the origin", a.originHeight, -1000, 1000, "m"},
      {"crouch height", a.crouchHeight, 0, 1000, "m"},
      {"cost of crouching", a.crouchCost, 0.01, 1000, "a metre"},
  };
  if (auto problem = outsideRange(ranges, "agent " + a.name)) return problem;
  if (a.stepHeight >= a.height)
    return Problem{
        ProblemCode::usage,
        "The step height " + plainNumber(a.stepHeight) + " m is not less than the agent's height " + plainNumber(a.height) + " m.",
        "agent " + a.name, "a step height well under the height."};
  if (a.crouches() && (a.crouchHeight >= a.height || a.crouchHeight <= a.stepHeight))
    return Problem{ProblemCode::usage,
                   "The crouch height " + plainNumber(a.crouchHeight) + " m is not between the step height " + plainNumber(a.stepHeight) +
                       " m and the height " + plainNumber(a.height) + " m.",
                   "agent " + a.name, "a crouch height between them, or 0 for an agent that never crouches."};
  return std::nullopt;
}

}  // namespace dune::nav
