#pragma once
// A flight that was worked out, to be looked at as it goes.

#include <array>

#include "core/pipeline/crowd_run.h"
#include "core/pipeline/flight.h"

namespace dune::window {

/// A body at a moment; small, as there are many.
struct Pose {
  std::array<float, 3> at, aim;  ///< metres; where it flies to
  float heading, bank, pitch;    ///< radians
  std::uint16_t waypoint;        ///< the next corner of its way
  bool flies;                    ///< and has not arrived
};

struct Flown {
  std::vector<std::vector<Pose>> frames;  ///< kFlownRate a second, one a body
  std::vector<std::vector<Vec3>> ways;    ///< one a body, as at the start
  std::vector<flight::Flyer> kinds;       ///< one a body
  std::size_t goals = 0, arrived = 0;     ///< bodies that have a goal, and those of them that came there
  std::vector<pipeline::TooFew> tooFew{};
  std::shared_ptr<const pipeline::Run> among{};  ///< the walkers that they made way for, or null
  trace::Trace trace{};                          ///< of their middles
  std::vector<review::Finding> findings{};       ///< of that
};
constexpr double kFlownRate = 30;

/// The bodies and moving obstacles of a run as flyers make way for them, so many seconds after its first time.
std::vector<flight::Mover> moversOf(const pipeline::Run& run, double time);

/// Lets groups fly until all that have a goal are there, or for two minutes, and reviews it. `airs`: by the ids of kinds. `among`: the run
/// of a crowd whose bodies and moving obstacles they make way for, or null. Fails when cancelled.
Result<std::shared_ptr<const Flown>> flyGroups(std::span<const project::FlyerGroup> groups,
                                               const std::map<int, std::shared_ptr<const pipeline::Air>>& airs,
                                               std::shared_ptr<const pipeline::Run> among, Job& job);

}  // namespace dune::window
