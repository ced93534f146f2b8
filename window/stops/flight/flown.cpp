#include "window/stops/flight/flown.h"

#include <algorithm>

namespace dune::window {

namespace {

constexpr double kLongestFlight = 120;  // seconds
constexpr double kFlightAfter = 1.5;    // seconds that it goes on once all have arrived

Pose poseOf(const flight::Airborne& b) {
  const auto floats = [](const Vec3& v) { return std::array{static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)}; };
  return {floats(b.at),
          floats(b.aim),
          static_cast<float>(b.heading),
          static_cast<float>(b.bank),
          static_cast<float>(b.pitch),
          static_cast<std::uint16_t>(std::min<std::size_t>(b.waypoint, 65535)),
          b.state != flight::FlightState::arrived};
}

}  // namespace

Result<std::shared_ptr<const Flown>> flyGroups(std::span<const project::FlyerGroup> groups, const std::shared_ptr<const pipeline::Air>& air,
                                               int kind, Job& job) {
  auto input = pipeline::fleetOf(groups, {{kind, air}});
  if (!input) return input.problem();
  flight::FleetOptions options;
  options.rate = kFlownRate;
  auto fleet = flight::Fleet::make(input->spaces, input->pilots, options, job);
  if (!fleet) return fleet.problem();
  auto flown = std::make_shared<Flown>();
  flown->kind = air->space->flyer();
  flown->tooFew = std::move(input.value().tooFew);
  for (std::size_t i = 0; i < fleet->size(); ++i) flown->ways.push_back(fleet->way(i));
  // Those that go round and round arrive nowhere.
  const auto hasGoal = [&](std::size_t i) { return fleet->pilot(i).round.empty(); };
  for (std::size_t i = 0; i < fleet->size(); ++i) flown->goals += hasGoal(i);
  double allThere = 0;
  for (;;) {
    flown->arrived = 0;
    auto& frame = flown->frames.emplace_back();
    for (std::size_t i = 0; i < fleet->size(); ++i) {
      frame.push_back(poseOf(fleet->bodies()[i]));
      flown->arrived += hasGoal(i) && !frame.back().flies;
    }
    if (flown->arrived == flown->goals) allThere += 1 / kFlownRate;
    if (allThere > kFlightAfter || fleet->time() > kLongestFlight) return std::shared_ptr<const Flown>(std::move(flown));
    if (!fleet.value().step(job)) return Job::cancelledProblem();
  }
}

}  // namespace dune::window
