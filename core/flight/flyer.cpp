#include "core/flight/flyer.h"

#include "core/base/value_range.h"

namespace dune::flight {

std::optional<Problem> checkFlyer(const Flyer& f) {
  const ValueRange ranges[] = {
      {"radius", f.radius, 0.02, 100, "m"},
      {"half height", f.halfHeight, 0.02, 100, "m"},
      {"least height", f.leastHeight, 0, 1000, "m"},
      {"greatest height", f.mostHeight, 0, 10000, "m"},
      {"speed", f.speed, 0.01, 1000, "m/s"},
      {"least speed", f.leastSpeed, 0, 1000, "m/s"},
      {"acceleration", f.acceleration, 0.01, 10000, "m/s²"},
      {"turning rate", f.turnRate, 1, 100000, "°/s"},
      {"climbing rate", f.climbRate, 0.01, 1000, "m/s"},
      {"steepest bank", f.mostBank, 0, 89, "°"},
      {"steepest pitch", f.mostPitch, 0, 89, "°"},
      {"waypoint distance", f.passWithin, 0.01, 1000, "m"},
      {"arrival distance", f.arriveWithin, 0.01, 1000, "m"},
  };
  if (auto problem = outsideRange(ranges, "flyer " + f.name)) return problem;
  const double ratio = f.radius / f.halfHeight;
  if (ratio > 20 || ratio < 0.05)
    return Problem{ProblemCode::usage, "The body is more than twenty times as wide as high, or as high as wide.", "flyer " + f.name,
                   "a half height nearer to the radius."};
  if (f.mostHeight > 0 && f.mostHeight < f.leastHeight)
    return Problem{ProblemCode::usage,
                   "The greatest height " + plainNumber(f.mostHeight) + " m is below the least one, " + plainNumber(f.leastHeight) + " m.",
                   "flyer " + f.name, "a greatest height over the least, or 0 for any."};
  if (f.leastSpeed > f.speed)
    return Problem{ProblemCode::usage,
                   "The least speed " + plainNumber(f.leastSpeed) + " m/s is above the speed " + plainNumber(f.speed) + " m/s.",
                   "flyer " + f.name, "a least speed under the speed, or 0 for one that hovers."};
  return std::nullopt;
}

}  // namespace dune::flight
