#include "core/pipeline/flight.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/base/parallel.h"
#include "core/ground/solids.h"
#include "core/pipeline/world.h"
#include "core/project/rules.h"

namespace dune::pipeline {

namespace {
constexpr double kOverTop = 10;  // metres of air over a level
constexpr double kBeside = 2;    // and beside it
}  // namespace

Result<flight::SpaceInput> flightInput(const level::World& world, const flight::Flyer& flyer, std::vector<Box3> boxes, Job& job) {
  flight::SpaceInput input;
  input.flyer = flyer, input.boxes = std::move(boxes);
  const auto& objects = world.level->objects;
  std::vector<ground::Solids> solids(objects.size());
  const auto counts = [&](std::size_t o) { return world.roles[o] == level::Role::ground || world.roles[o] == level::Role::obstacle; };
  const auto find = [&](std::size_t o) {
    if (counts(o)) solids[o] = ground::findSolids(objects[o], job);
  };
  if (!parallelFor(job, objects.size(), find, 1)) return Job::cancelledProblem();
  std::int32_t first = 0;  // number of the object's first triangle, so that pieces of objects are told apart
  for (std::size_t o = 0; o < objects.size(); ++o) {
    input.names.push_back(objects[o].name);
    if (!counts(o)) continue;
    const auto& triangles = objects[o].triangles;
    for (std::size_t t = 0; t < triangles.size(); ++t) {
      if (solids[o].repeated[t]) continue;
      flight::Barrier barrier;
      for (std::size_t i = 0; i < 3; ++i) barrier.corner[i] = objects[o].vertices[triangles[t][i]];
      barrier.object = static_cast<std::uint32_t>(o);
      if (world.roles[o] == level::Role::ground && !solids[o].underside[t]) barrier.of = flight::Barrier::Of::ground;
      if (solids[o].piece[t] >= 0) barrier.solid = first + solids[o].piece[t];
      input.barriers.push_back(barrier);
    }
    first += static_cast<std::int32_t>(triangles.size());
  }
  return input;
}

namespace {

bool holdsAll(std::span<const Box3> boxes, const Box3& part) {
  return std::ranges::any_of(boxes, [&](const Box3& b) { return b.contains(part.min) && b.contains(part.max); });
}

}  // namespace

Box3 usualVolume(const level::World& world) {
  if (world.bounds) return *world.bounds;
  Box3 box = world.level->bounds();
  if (box.empty()) return {{-10, 0, -10}, {10, kOverTop, 10}};
  box.min -= Vec3(kBeside, 0, kBeside), box.max += Vec3(kBeside, kOverTop, kBeside);
  return box;
}

AirVolumes airVolumes(std::vector<Box3> boxes, std::span<const AirSaid> said) {
  AirVolumes air{boxes, {}};
  for (const AirSaid& s : said) {
    if (s.rule.forbidden) {
      air.boxes = flight::without(std::move(air.boxes), std::array{s.box});
      continue;
    }
    // What one before forbids it allows again.
    for (const Box3& box : boxes)
      if (const Box3 part = flight::commonPart(box, s.box); !part.empty() && !holdsAll(air.boxes, part)) air.boxes.push_back(part);
    air.zones.push_back({s.box, s.rule.cost, s.rule.entryCost, s.kind});
  }
  return air;
}

AirVolumes airVolumes(const project::Project& project, int flyer, const Box3& usual) {
  std::vector<Box3> boxes;
  std::vector<AirSaid> said;
  const auto& kinds = project.areas->kinds;
  for (const project::FlightVolume& v : project.flight->volumes) {
    const auto kind = std::ranges::find(kinds, v.air, &level::AreaKind::name) - kinds.begin();
    if (v.air.empty())
      boxes.push_back(v.box);
    else
      said.push_back({v.box, project::airRule(project, flyer, v.air), static_cast<std::uint32_t>(kind)});
  }
  if (boxes.empty()) boxes.push_back(usual);
  return airVolumes(std::move(boxes), said);
}

namespace {

const project::FlyerKind* flyerOf(const project::Project& project, int id) {
  const auto found = std::ranges::find(project.flight->flyers, id, &project::FlyerKind::id);
  return found == project.flight->flyers.end() ? nullptr : &*found;
}

}  // namespace

bool sameAir(const project::Project& a, const project::Project& b, int flyer) {
  const project::FlyerKind *one = flyerOf(a, flyer), *two = flyerOf(b, flyer);
  const Box3 anywhere{Vec3(-1e9), Vec3(1e9)};  // where it may fly where nothing says depends on the level alone
  return one && two && *one == *two && (a.level == b.level || *a.level == *b.level) &&
         airVolumes(a, flyer, anywhere) == airVolumes(b, flyer, anywhere);
}

bool holds(const Air& air, const project::Project& project, const level::Level& level, int flyer) {
  return air.source.get() == &level && sameAir(air.from, project, flyer);
}

Result<std::shared_ptr<const Air>> makeAir(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t flyer,
                                           std::shared_ptr<const Air> before, Job& job) {
  const project::FlyerKind& kind = project.flight->flyers[flyer];
  if (before && holds(*before, project, *level, kind.id)) return before;
  const level::World world = worldOf(project, level, kind.name);
  AirVolumes volumes = airVolumes(project, kind.id, usualVolume(world));
  if (volumes.boxes.empty())
    return Problem{ProblemCode::unusable, "Everywhere where it may fly is forbidden to it.", "flyer " + kind.name,
                   "another rule for the kind of air, or a smaller volume of it."};
  auto input = flightInput(world, kind, std::move(volumes.boxes), job);
  if (!input) return input.problem();
  input->zones = std::move(volumes.zones);
  auto space = flight::Space::make(*std::move(input), job, before ? before->space.get() : nullptr);
  if (!space) return space.problem();
  return std::shared_ptr<const Air>(std::make_shared<Air>(Air{project, std::move(level), *std::move(space)}));
}

namespace {

/// Places for bodies around one, on a spiral of golden angles (Vogel, "A better way to construct the sunflower head", 1979).
class Seats {
 public:
  Seats(const flight::Space& space, const Vec3& middle, double spread, int count) : space_(space), middle_(middle) {
    apart_ = std::max(2.2 * space.flyer().radius + 0.1, spread / std::sqrt(std::max(count, 1)));
  }
  /// The next one at which a body fits; nothing when there is none for long.
  std::optional<Vec3> next() {
    constexpr int kInVain = 400;
    constexpr double kGolden = 2.399963229728653;
    for (const int last = number_ + kInVain; number_ < last; ++number_) {
      const double out = apart_ * std::sqrt(static_cast<double>(number_)), angle = number_ * kGolden;
      const Vec3 at = middle_ + Vec3(std::cos(angle) * out, 0, std::sin(angle) * out);
      if (!space_.fits(space_.stretched(at))) continue;
      ++number_;
      return at;
    }
    return std::nullopt;
  }

 private:
  const flight::Space& space_;
  Vec3 middle_;
  double apart_;
  int number_ = 0;
};

/// Gives a pilot its place beside another one: where it starts, as that one looks; at the goal likewise, where its body fits there.
void follow(flight::Pilot& pilot, const flight::Pilot& leader, std::size_t number, const flight::Space& space) {
  const Vec3 off = pilot.start - leader.start;
  const Vec3 ahead(std::cos(leader.heading), 0, -std::sin(leader.heading)), right(std::sin(leader.heading), 0, std::cos(leader.heading));
  pilot.leader = number, pilot.place = {glm::dot(off, ahead), off.y, glm::dot(off, right)};
  pilot.heading = leader.heading;
  if (const Vec3 goal = leader.goal + off; space.fits(space.stretched(goal))) pilot.goal = goal;
}

}  // namespace

Result<FleetInput> fleetOf(std::span<const project::FlyerGroup> groups, const std::map<int, std::shared_ptr<const Air>>& airs) {
  FleetInput input;
  std::map<int, std::size_t> numbers;
  for (const auto& [id, air] : airs) numbers[id] = input.spaces.size(), input.spaces.push_back(air->space.get());
  for (const project::FlyerGroup& group : groups) {
    const auto number = numbers.find(group.flyer);
    if (number == numbers.end())
      return Problem{ProblemCode::unusable, "A group of flyers is of a kind that does not exist.", group.name,
                     "another kind for the group."};
    const flight::Space& space = *input.spaces[number->second];
    const std::size_t first = input.pilots.size();
    Seats starts(space, group.start, group.spread, group.count), goals(space, group.goal, group.spread, group.count);
    for (int i = 0; i < group.count; ++i) {
      const auto start = starts.next(), goal = goals.next();
      if (!start || !goal) {
        input.tooFew.push_back({group.name, group.count, i});
        break;
      }
      flight::Pilot pilot;
      pilot.id = static_cast<int>(input.pilots.size()) + 1, pilot.space = number->second, pilot.start = *start, pilot.goal = *goal;
      for (const Vec3& p : group.round) pilot.round.push_back(p + (*goal - group.goal));
      if (!pilot.round.empty()) pilot.round.push_back(*goal);
      pilot.lookAhead();
      if (group.inShape && first < input.pilots.size()) follow(pilot, input.pilots[first], first, space);
      input.pilots.push_back(std::move(pilot)), input.groupOf.push_back(group.id);
    }
  }
  return input;
}

namespace {

crowd::State stateOf(flight::FlightState state) {
  switch (state) {
    case flight::FlightState::arrived:
      return crowd::State::arrived;
    case flight::FlightState::stuck:
      return crowd::State::stuck;
    case flight::FlightState::waiting:
      return crowd::State::waiting;
    case flight::FlightState::flying:
      break;
  }
  return crowd::State::moving;
}

}  // namespace

Outcome recordFlight(flight::Fleet& fleet, const std::vector<int>& groupOf, const Flying& how, trace::Sink& sink, Job& job) {
  std::vector<trace::Body> bodies;
  for (std::size_t i = 0; i < fleet.size(); ++i) {
    std::optional<Vec3> goal;
    if (fleet.pilot(i).round.empty()) goal = fleet.pilot(i).goal;
    bodies.push_back({fleet.pilot(i).id, fleet.flyer(i).radius, goal, i < groupOf.size() ? groupOf[i] : 0, 0});
  }
  trace::Writer writer(sink, bodies);
  if (auto begun = writer.begin(); !begun) return begun;
  std::vector<trace::Sample> samples(fleet.size());
  std::vector<flight::Mover> movers;
  for (std::size_t frame = 0;; ++frame) {
    for (std::size_t i = 0; i < fleet.size(); ++i) {
      const flight::Airborne& b = fleet.bodies()[i];
      samples[i] = {fleet.time(), fleet.pilot(i).id, b.at, b.velocity, b.wanted, stateOf(b.state), nav::kNoFace};
    }
    if (auto written = writer.frame(fleet.time(), samples); !written) return written;
    if ((how.goesOn && !how.goesOn(frame)) || fleet.time() >= how.seconds - 1e-9) break;
    if (how.movers) movers = how.movers(fleet.time());
    if (job.cancelled() || !fleet.step(job, movers)) return Job::cancelledProblem();
    if (frame % 16 == 0) job.advance(fleet.time() / how.seconds);
  }
  return writer.end();
}

std::vector<flight::Mover> moversOf(const trace::Trace& trace, double time, const std::function<PersonSize(std::size_t body)>& sizeOf) {
  std::vector<flight::Mover> movers;
  if (trace.frameCount() == 0) return movers;
  const std::size_t frame = trace.frameAt(trace.firstTime() + time);
  const bool over = trace.firstTime() + time > trace.duration();  // they stay where they came to
  const double since = over ? 0 : trace.firstTime() + time - trace.timeOf(frame);
  for (std::size_t b = 0; b < trace.bodies().size(); ++b) {
    const trace::Sample s = trace.at(frame, b);
    if (!trace.isThere(frame, b)) continue;
    const PersonSize size = sizeOf(b);
    const double half = size.height / 2, own = trace.bodies()[b].radius;
    movers.push_back({s.at + s.velocity * since + Vec3(0, half, 0), over ? Vec3(0) : s.velocity, own > 0 ? own : size.radius, half});
  }
  return movers;
}

flight::Mover moverOf(const crowd::MovingObstacle& obstacle, double time) {
  const crowd::Whereabouts now = crowd::whereabouts(obstacle, time);
  const bool round = obstacle.shape == crowd::MovingObstacle::Shape::cylinder;
  // A ball stretched upwards holds the body's edges only where it is wider than that by the root of two.
  const double radius = (round ? obstacle.size.x : std::hypot(obstacle.size.x, obstacle.size.z)) / 2, half = obstacle.size.y / 2;
  return {now.at + Vec3(0, half, 0), now.velocity, radius * std::numbers::sqrt2, half * std::numbers::sqrt2};
}

}  // namespace dune::pipeline
