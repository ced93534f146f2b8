#pragma once
// What is wrong with recorded movement, of our crowds and of games.
//
// 1. A finding is an event, not a sample: while a limit is passed without a break, only the worst moment counts.
// 2. Where the recording cannot say, nothing is said: who stands at the end of what is known of it and has no goal has finished; who is
//    missing is not standing.
// 3. Causes are found out: who stands in the way, which object was walked through, whether there is a way at all.

#include <functional>
#include <span>

#include "core/review/findings.h"
#include "core/route/field.h"
#include "core/trace/trace.h"

namespace dune::review {

struct MovementLimits {
  double wallTouch = 0.02;  ///< metres nearer to a wall than the radius
  double offGround = 0.3;   ///< metres above, below or beside the ground
  double floats = 0.15;     ///< metres above or below the level itself, where it is given
  double offPath = 4;       ///< metres from the path that it follows, where that is known
  double overlap = 0.01;    ///< metres two bodies may stand inside each other
  double stuckSeconds = 3;  ///< standing still that long on the way
  double hesitates = 0.3;   ///< seconds without getting on in the middle of the way
  double gap = 1;           ///< seconds without a sample
  double jump = 0.5;        ///< metres further in one step than it can have gone
  double speed = 1.2;       ///< times its top speed
  double acceleration = 3;  ///< times its acceleration
  double turn = 135;        ///< degrees at once, at speed
  double around = 1.3;      ///< times the cost of the best way, and
  double aroundMore = 3;    ///< that much more, in metres of plain ground
  double late = 1.6;        ///< times the seconds that the best way takes at its own speed, and
  double lateMore = 6;      ///< that many more
};

/// One of them, as flags, files and reports name it.
struct MovementLimit {
  const char *name, *about, *unit;
  double MovementLimits::*value;
};
std::span<const MovementLimit> movementLimits();

/// What of the level lies under a body.
struct Surface {
  double height;  ///< metres
  std::string object;
};

/// What bodies moved on.
struct Ground {
  const nav::NavMesh& mesh;
  const nav::Locator& locator;
  const route::Field* field = nullptr;  ///< where it is given, ways are compared with the best ones
  /// The name of the object that a body meets between two places; empty where that is nothing. May be missing.
  std::function<std::string(const Vec3& from, const Vec3& to)> between{};
  /// Of the level within `radius` in plan of a place, what lies nearest to it in height, and not more than 2 m away; may be missing.
  std::function<std::optional<Surface>(const Vec3& at, double radius)> surface{};
};

/// `groundOf`: one a body of the trace, which of the grounds it moved on; the first where it says nothing. The same findings for any number
/// of threads. O(samples × neighbours + bodies × search).
Result<std::vector<Finding>> reviewMovement(std::span<const Ground> grounds, std::span<const std::size_t> groundOf,
                                            const trace::Trace& trace, const MovementLimits& limits, Job& job);
/// Where all moved on one mesh.
inline Result<std::vector<Finding>> reviewMovement(const Ground& ground, const trace::Trace& trace, const MovementLimits& limits,
                                                   Job& job) {
  return reviewMovement(std::span(&ground, 1), {}, trace, limits, job);
}

}  // namespace dune::review
