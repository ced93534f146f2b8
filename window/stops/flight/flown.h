#pragma once
// A flight that was worked out, to be looked at as it goes.

#include <array>

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
  flight::Flyer kind;
  std::size_t goals = 0, arrived = 0;  ///< bodies that have a goal, and those of them that came there
  std::vector<pipeline::TooFew> tooFew;
};
constexpr double kFlownRate = 30;

/// Lets groups of one kind fly until all that have a goal are there, or for two minutes; null when cancelled.
Result<std::shared_ptr<const Flown>> flyGroups(std::span<const project::FlyerGroup> groups, const std::shared_ptr<const pipeline::Air>& air,
                                               int kind, Job& job);

}  // namespace dune::window
