#include "window/session/flown.h"

#include <algorithm>

#include "core/review/flight_review.h"

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

std::vector<std::size_t> spaceOfEach(const flight::Fleet& fleet) {
  std::vector<std::size_t> of;
  for (std::size_t i = 0; i < fleet.size(); ++i) of.push_back(fleet.pilot(i).space);
  return of;
}

}  // namespace

std::vector<flight::Mover> moversOf(const pipeline::Run& run, double time) {
  std::vector<flight::Mover> movers = pipeline::moversOf(run.trace, time, [&](std::size_t body) {
    const nav::Agent& kind = run.groundOf(body).mesh.agent;
    return pipeline::PersonSize{kind.radius, kind.height};
  });
  for (const crowd::MovingObstacle& o : run.obstacles) movers.push_back(pipeline::moverOf(o, run.trace.firstTime() + time));
  return movers;
}

Result<std::shared_ptr<const Flown>> flyGroups(std::span<const project::FlyerGroup> groups,
                                               const std::map<int, std::shared_ptr<const pipeline::Air>>& airs,
                                               std::shared_ptr<const pipeline::Run> among, Job& job) {
  auto input = pipeline::fleetOf(groups, airs);
  if (!input) return input.problem();
  flight::FleetOptions options;
  options.rate = kFlownRate;
  auto fleet = flight::Fleet::make(input->spaces, input->pilots, options, job);
  if (!fleet) return fleet.problem();
  auto flown = std::make_shared<Flown>();
  flown->tooFew = std::move(input.value().tooFew), flown->among = std::move(among);
  // Those that go round and round arrive nowhere.
  const auto hasGoal = [&](std::size_t i) { return fleet->pilot(i).round.empty(); };
  for (std::size_t i = 0; i < fleet->size(); ++i) {
    flown->ways.push_back(fleet->way(i)), flown->kinds.push_back(fleet->flyer(i));
    flown->goals += hasGoal(i);
  }
  double allThere = 0;
  pipeline::Flying how{kLongestFlight};
  if (flown->among) how.movers = [&](double time) { return moversOf(*flown->among, time); };
  how.goesOn = [&](std::size_t) {
    flown->arrived = 0;
    auto& frame = flown->frames.emplace_back();
    for (std::size_t i = 0; i < fleet->size(); ++i) {
      frame.push_back(poseOf(fleet->bodies()[i]));
      flown->arrived += hasGoal(i) && !frame.back().flies;
    }
    if (flown->arrived == flown->goals) allThere += 1 / kFlownRate;
    return allThere <= kFlightAfter;
  };
  if (auto recorded = pipeline::recordFlight(fleet.value(), input->groupOf, how, flown->trace, job); !recorded) return recorded.problem();
  auto found = review::reviewFlight(input->spaces, spaceOfEach(fleet.value()), flown->trace, {}, job);
  if (!found) return found.problem();
  flown->findings = *std::move(found);
  return std::shared_ptr<const Flown>(std::move(flown));
}

}  // namespace dune::window
