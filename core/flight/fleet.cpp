#include "core/flight/fleet.h"

#include <algorithm>
#include <cmath>

#include "core/base/own_number.h"
#include "core/base/parallel.h"
#include "core/flight/following.h"
#include "core/flight/run_up.h"
#include "core/flight/tuning.h"

// A few hundred bodies at 30 steps a second: each step is a look ahead on its way (two or three sweeps), the walls near it, and a dozen
// others.

namespace dune::flight {

namespace {

double wrapped(double angle) { return std::remainder(angle, 2 * kPi); }
double headingOf(const Vec3& v) { return std::atan2(-v.z, v.x); }
/// Whether it leads somewhere in plan, rather than up or down.
bool hasHeading(const Vec3& v) { return std::hypot(v.x, v.z) > 0.2 * glm::length(v); }
Vec3 clampLength(const Vec3& v, double most) {
  const double length = glm::length(v);
  return length > most ? v * (most / length) : v;
}

}  // namespace

struct Fleet::State {
  std::vector<const Space*> spaces;
  std::vector<Pilot> pilots;
  FleetOptions options;
  std::vector<std::unique_ptr<Searcher>> searchers;
  std::vector<Airborne> bodies, next;
  std::vector<Plan> plans;
  std::vector<std::vector<std::size_t>> followers;  // one a pilot
  std::vector<std::uint32_t> byX;                   // numbers of bodies, by where they are along x
  std::uint64_t steps = 0;

  double dt() const { return 1 / options.rate; }
  double time() const { return static_cast<double>(steps) / options.rate; }
  const Space& spaceOf(std::size_t i) const { return *spaces[pilots[i].space]; }
  const Flyer& flyerOf(std::size_t i) const { return spaceOf(i).flyer(); }
  /// It has not begun yet.
  bool absent(std::size_t i) const { return time() < pilots[i].startTime; }
  Vec3 goalOf(std::size_t i) const {
    const Plan& plan = plans[i];
    const auto& round = pilots[i].round;
    return plan.goal == 0 || round.empty() ? pilots[i].goal : round[(plan.goal - 1) % round.size()];
  }

  /// The narrow places of a way, but for where it takes off and lands.
  static std::vector<Gate> gatesOf(const Space& space, Plan& plan) {
    if (!plan.lifts && !plan.lands) return findGates(space, plan.way);
    std::vector<Vec3> air(plan.way.begin() + plan.lifts, plan.way.end() - plan.lands);
    if (air.size() < 2) return {};
    std::vector<Gate> gates = findGates(space, air);
    if (plan.lifts) air.insert(air.begin(), plan.way.front());
    if (plan.lands) air.push_back(plan.way.back());
    plan.way = std::move(air);
    return gates;
  }

  /// Asks for the way from where a body is; it keeps the old one where there is none.
  Way ask(std::size_t i) {
    Plan& plan = plans[i];
    plan.again = false, plan.waited = 0;
    Way way = searchers[pilots[i].space]->find({bodies[i].at, goalOf(i)});
    plan.partial = way.outcome == Way::Outcome::partial;
    if (way.points.size() > 1 || plan.way.empty()) {
      plan.lifts = way.lifts, plan.lands = way.lands;
      plan.way = way.points.empty() ? std::vector<Vec3>{bodies[i].at} : way.points;
      plan.gates = gatesOf(spaceOf(i), plan);
      if (!flyerOf(i).hovers() && !plan.gates.empty()) {
        plan.way = withRunUps(spaceOf(i), *searchers[pilots[i].space], plan.gates, plan.way);
        plan.gates = findGates(spaceOf(i), plan.way);
      }
      bodies[i].waypoint = std::min<std::size_t>(1, plan.way.size() - 1), bodies[i].gate = 0;
    }
    plan.left = plan.lengthFrom(bodies[i].at, bodies[i].waypoint);
    return way;
  }

  /// What a body does that must let another one through a narrow place first: it keeps clear of the mouth. Nothing where it need not.
  std::optional<Vec3> holds(std::size_t i, Airborne& body) const {
    const Plan& plan = plans[i];
    const Flyer& f = flyerOf(i);
    const Airborne& me = bodies[i];
    while (body.gate < plan.gates.size() && glm::dot(me.at - plan.gates[body.gate].at, plan.gates[body.gate].direction) > f.radius)
      ++body.gate;
    if (body.gate == plan.gates.size()) return std::nullopt;
    const Gate& gate = plan.gates[body.gate];
    const double far = glm::distance(me.at, gate.at), near = 8 * f.radius + 2;
    if (far > near) return std::nullopt;
    const auto lower =
        std::lower_bound(byX.begin(), byX.end(), gate.at.x - near, [&](std::uint32_t n, double x) { return bodies[n].at.x < x; });
    enum { free, queues, meets } must = free;
    for (auto n = lower; n != byX.end() && bodies[*n].at.x <= gate.at.x + near && must != meets; ++n) {
      const Airborne& b = bodies[*n];
      if (*n == i || absent(*n) || b.state == FlightState::arrived || b.gate >= plans[*n].gates.size()) continue;
      const Gate& other = plans[*n].gates[b.gate];
      const double theirs = glm::distance(b.at, other.at);
      if (theirs > near || glm::distance(other.at, gate.at) > 2 * f.radius) continue;
      const bool first = b.tight != me.tight ? b.tight : theirs != far ? theirs < far : pilots[*n].id < pilots[i].id;
      if (first) must = glm::dot(other.direction, gate.direction) > 0 ? queues : meets;
    }
    if (must == free || (must == queues && (me.tight || far > 5 * f.radius))) return std::nullopt;
    if (must == queues) return far > 4 * f.radius ? Vec3(0) : gate.direction * (-0.25 * f.speed);
    if (me.tight) return gate.direction * (-0.3 * f.speed);
    if (far > 5 * f.radius) return Vec3(0);
    Vec3 aside = (me.at - gate.at) - gate.direction * glm::dot(me.at - gate.at, gate.direction);
    if (glm::length(aside) < 0.1 * f.radius) aside = Vec3(-gate.direction.z, pilots[i].id % 2 ? 0.5 : -0.5, gate.direction.x);
    return (glm::normalize(aside) - gate.direction * 0.5) * (0.35 * f.speed);
  }

  /// Who makes way climbs no faster than it can, either.
  static void boundClimb(const Flyer& f, std::vector<Bound>& bounds) {
    for (const double up : {1.0, -1.0}) bounds.push_back({{0, up, 0}, -f.climbRate, true});
  }

  /// Not faster up or down than it climbs.
  static Vec3 climbing(const Flyer& f, Vec3 v) {
    if (std::abs(v.y) <= f.climbRate) return v;
    if (f.hovers()) return v * (f.climbRate / std::abs(v.y));
    const double speed = glm::length(v), level = std::hypot(v.x, v.z);
    v.y = std::copysign(f.climbRate, v.y);
    const double keep = std::sqrt(std::max(speed * speed - v.y * v.y, 0.0));
    return level > 1e-9 ? Vec3(v.x / level * keep, v.y, v.z / level * keep) : v;
  }

  /// How one body takes another. Who stands at its goal leaves making way to those that still go; who is in a narrow place goes first, and
  /// where somebody waits the lower number: the other one makes all of the way, for what that one wants to do.
  Other asSeen(std::size_t i, std::size_t n) const {
    const Airborne &me = bodies[i], &b = bodies[n];
    Other other;
    other.velocity = other.goes = b.velocity;
    const bool arrived = me.state == FlightState::arrived, there = b.state == FlightState::arrived;
    if (arrived != there) {
      other.share = arrived ? 0.2 : 0.8;
    } else if (me.tight != b.tight || (std::max(me.waits, b.waits) > tuning::kYieldAfter && !arrived)) {
      const bool first = me.tight != b.tight ? me.tight : pilots[i].id < pilots[n].id;
      other.share = first ? 0.1 : 0.9;
      if (!first) other.goes = clampLength(b.wanted, std::max(glm::length(b.velocity), 0.3 * flyerOf(n).speed));
    }
    return other;
  }

  /// The others within reach, nearest first, of which at most so many are heeded.
  void others(std::size_t i, std::span<const Mover> movers, std::vector<Other>& found) const {
    found.clear();
    const Airborne& me = bodies[i];
    const Flyer& f = flyerOf(i);
    const double reach = 2 * f.speed * options.secondsAhead + 2 * f.radius + options.spacing;
    struct Seen {
      double far;
      std::size_t number;
      Other other;
    };
    std::vector<Seen> seen;
    const auto add = [&](std::size_t number, const Vec3& at, double radius, double halfHeight, Other other) {
      other.from = at - me.at;
      const double far = glm::length(other.from);
      if (far > reach) return;
      other.radius = f.radius + radius + options.spacing, other.halfHeight = f.halfHeight + halfHeight + options.spacing;
      seen.push_back({far, number, other});
    };
    const auto lower =
        std::lower_bound(byX.begin(), byX.end(), me.at.x - reach, [&](std::uint32_t n, double x) { return bodies[n].at.x < x; });
    for (auto n = lower; n != byX.end() && bodies[*n].at.x <= me.at.x + reach; ++n) {
      if (*n == i || absent(*n)) continue;
      add(*n, bodies[*n].at, flyerOf(*n).radius, flyerOf(*n).halfHeight, asSeen(i, *n));
    }
    for (std::size_t k = 0; k < movers.size(); ++k) {
      Other other;
      other.velocity = other.goes = movers[k].velocity, other.share = 1, other.blind = true;
      add(bodies.size() + k, movers[k].at, movers[k].radius, movers[k].halfHeight, other);
    }
    std::sort(seen.begin(), seen.end(), [](const Seen& a, const Seen& b) { return a.far != b.far ? a.far < b.far : a.number < b.number; });
    for (std::size_t k = 0; k < std::min(seen.size(), options.heeds); ++k) found.push_back(seen[k].other);
  }

  struct Scratch {
    std::vector<Other> others;
    std::vector<Bound> bounds;
  };

  /// Where many cross, each keeps to a height of its own for as long as they do, so that a jam of a plane dissolves into space: how far up
  /// or down, -1 to 1 and never near 0.
  static double layerOf(int id) {
    const double share = ownNumber(id);
    return share < 0.5 ? -1 + 1.4 * share : 0.3 + 1.4 * (share - 0.5);
  }

  /// How many of the others come nearer than one and a half times what they need, as it goes now.
  double crossing(std::size_t i, std::span<const Other> others) const {
    double count = 0;
    for (const Other& o : others) {
      const Vec3 v = bodies[i].velocity - o.velocity;
      const double speed = glm::dot(v, v), when = speed > 1e-6 ? std::clamp(glm::dot(o.from, v) / speed, 0.0, options.secondsAhead) : 0;
      count += glm::length(o.from - v * when) < tuning::kNearPass * o.radius;
    }
    return count;
  }

  /// Where its place beside its leader is.
  Vec3 placeOf(std::size_t i) const {
    const Pilot& pilot = pilots[i];
    const Airborne& leader = bodies[*pilot.leader];
    const Vec3 ahead(std::cos(leader.front), 0, -std::sin(leader.front)), right(std::sin(leader.front), 0, std::cos(leader.front));
    return leader.at + ahead * pilot.place.x + Vec3(0, pilot.place.y, 0) + right * pilot.place.z;
  }

  /// The places beside a leader turn with the way that it goes, not with its nose, which turns at once; and no faster than who is farthest
  /// out keeps up with.
  void turnFront(std::size_t i, Airborne& body) const {
    const Flyer& f = flyerOf(i);
    double farthest = f.radius;
    for (const std::size_t n : followers[i]) farthest = std::max(farthest, std::hypot(pilots[n].place.x, pilots[n].place.z));
    if (std::hypot(body.velocity.x, body.velocity.z) < tuning::kGoesOn * f.speed) return;
    const double most = (1 - tuning::kLeads) * f.speed / farthest * dt();
    body.front = wrapped(body.front + std::clamp(wrapped(headingOf(body.velocity) - body.front), -most, most));
  }

  /// How fast one goes whose followers fall back, as a share of its speed.
  double patienceOf(std::size_t i) const {
    double behind = 0;
    for (const std::size_t n : followers[i])
      if (bodies[n].inPlace) behind = std::max(behind, glm::distance(placeOf(n), bodies[n].at));
    const double radius = flyerOf(i).radius;
    return std::clamp(1 - (behind - radius) / (tuning::kFallBack * radius), tuning::kLeastShare, tuning::kLeads);
  }

  /// Towards its place, as fast as its leader goes and what is missing takes; nothing where it flies by itself: its leader does not fly, it
  /// does not fit there, or does not see it. Who has left it stays away for a while, for it asked for a way of its own.
  std::optional<Vec3> toPlace(std::size_t i, Airborne& body) {
    if (!pilots[i].leader) return std::nullopt;
    Plan& plan = plans[i];
    const Airborne& leader = bodies[*pilots[i].leader];
    const Space& space = spaceOf(i);
    const Vec3 place = placeOf(i);
    const bool may = body.state == FlightState::flying && leader.state == FlightState::flying && !absent(*pilots[i].leader) &&
                     space.fits(space.stretched(place)) && space.passes(body.at, place);
    if (body.inPlace && !may) plan.again = true, plan.alone = tuning::kAlone;
    plan.alone = std::max(plan.alone - dt(), 0.0);
    body.inPlace = may && (body.inPlace || plan.alone == 0);
    if (!body.inPlace) return std::nullopt;
    body.aim = place;
    const Flyer& f = flyerOf(i);
    return climbing(f, clampLength(leader.velocity + (place - body.at) * tuning::kCloseUp, f.speed));
  }

  Vec3 wantedOf(std::size_t i, Airborne& body, bool& blind) const {
    const Flyer& f = flyerOf(i);
    const Following following(spaceOf(i), plans[i], bodies[i]);
    body.aim = following.aim(body.waypoint, blind);
    const Vec3 way = body.aim - bodies[i].at;
    const double far = glm::length(way);
    if (body.state == FlightState::arrived && f.hovers()) return clampLength(way, f.speed) * 0.8;
    if (far < 1e-6) return Vec3(0);
    const Vec3 direction = way / far;
    if (f.turnsFirst && f.hovers() && glm::length(body.velocity) < 0.1 * f.speed + 0.05 && hasHeading(direction) &&
        std::abs(wrapped(headingOf(direction) - body.heading)) > tuning::kTurnFirst)
      return Vec3(0);
    return climbing(f, direction * (following.speed(body.waypoint, pilots[i].round.empty()) * (followers[i].empty() ? 1 : patienceOf(i))));
  }

  /// Where to it turns: towards its aim until it goes, then where it goes.
  void turn(std::size_t i, Airborne& body, const Vec3& before) const {
    const Flyer& f = flyerOf(i);
    const double most = radians(f.turnRate) * dt();
    const Vec3 towards = std::hypot(body.velocity.x, body.velocity.z) > 0.15 * f.speed ? body.velocity : body.aim - body.at;
    if (hasHeading(towards) && body.state != FlightState::arrived)
      body.heading = wrapped(body.heading + std::clamp(wrapped(headingOf(towards) - body.heading), -most, most));
    const Vec3 ahead(std::cos(body.heading), 0, -std::sin(body.heading)), right(std::sin(body.heading), 0, std::cos(body.heading));
    const Vec3 pull = (body.velocity - before) / dt();
    const double level = std::hypot(body.velocity.x, body.velocity.z);
    const double bank = std::clamp(std::atan(glm::dot(pull, right) / tuning::kGravity), -radians(f.mostBank), radians(f.mostBank));
    const double lean =
        f.hovers() ? -std::atan(glm::dot(pull, ahead) / tuning::kGravity) : std::atan2(body.velocity.y, std::max(level, 1e-6));
    const double pitch = std::clamp(lean, -radians(f.mostPitch), radians(f.mostPitch)), follow = std::min(tuning::kLean * dt(), 1.0);
    body.bank += (bank - body.bank) * follow, body.pitch += (pitch - body.pitch) * follow;
  }

  /// What has a least speed turns no faster than it turns, and never stands.
  Vec3 flyingOn(const Flyer& f, const Airborne& body, const Vec3& v) const {
    const double most = radians(f.turnRate) * dt(), now = std::hypot(body.velocity.x, body.velocity.z);
    const double course = now > 1e-3 ? headingOf(body.velocity) : body.heading;
    const double wantedCourse = std::hypot(v.x, v.z) > 1e-6 ? headingOf(v) : course;
    const double to = course + std::clamp(wrapped(wantedCourse - course), -most, most);
    const double up = std::clamp(v.y, -f.climbRate, f.climbRate);
    const double level = std::clamp(std::hypot(v.x, v.z), f.leastSpeed, f.speed);
    const double change = f.acceleration * dt();
    const double speed = now > 1e-3 ? std::clamp(level, std::max(now - change, f.leastSpeed), now + change) : f.leastSpeed;
    return {std::cos(to) * speed, up, -std::sin(to) * speed};
  }

  /// Where a body comes to with a velocity that all bounds allow: along the sides of the volume where it would leave that, at corners
  /// between two, or by rounding. Nothing where it may not go there.
  std::optional<Vec3> stepTo(std::size_t i, const Vec3& v, std::span<const Bound> bounds, Obstacles::Which which) const {
    constexpr double kMissed = 1e-6;  // m/s
    const Space& space = spaceOf(i);
    const Vec3 from = bodies[i].at, p = space.stretched(from + v * dt());
    Vec3 to = from + v * dt();
    if (!space.volume().contains(p)) {
      const Vec3 near = space.volume().nearest(p);
      to = space.real(near);
      if (!space.volume().contains(space.stretched(to)))  // rounding once more: there it stays as it was
        for (int c = 0; c < 3; ++c)
          if (near[c] != p[c]) to[c] = from[c];
      const Vec3 slides = (to - from) / dt();
      for (const Bound& b : bounds)
        if (glm::dot(b.normal, slides) < std::min(b.least, 0.0) - kMissed) return std::nullopt;
    }
    return space.passes(from, to, which) ? std::optional(to) : std::nullopt;
  }

  void decide(std::size_t i, std::span<const Mover> movers, Scratch& scratch) {
    const Space& space = spaceOf(i);
    const Flyer& f = space.flyer();
    const Airborne& now = bodies[i];
    Airborne& body = next[i];
    body = now;
    if (absent(i)) return;
    if (now.state == FlightState::waiting) body.state = FlightState::flying;
    bool blind = false;
    const auto inShape = toPlace(i, body);
    Vec3 wanted = inShape ? *inShape : wantedOf(i, body, blind);
    others(i, movers, scratch.others);
    if (const double count = crossing(i, scratch.others); count > 1 && body.state == FlightState::flying && wanted != Vec3(0))
      wanted.y += layerOf(pilots[i].id) * std::min((count - 1) / 3, 1.0) * f.climbRate;
    const auto held = body.state == FlightState::arrived || body.inPlace ? std::nullopt : holds(i, body);
    if (held) wanted = climbing(f, *held);
    body.wanted = wanted;
    scratch.bounds.clear();
    const Obstacles::Which which = Following(space, plans[i], now).inTheWay(body.waypoint);
    boundsOfWalls(space, now.at, f.speed * tuning::kWallSeconds, tuning::kWallSeconds, scratch.bounds, which);
    body.tight = isTight(scratch.bounds, tuning::kWallSeconds, f.radius);
    boundClimb(f, scratch.bounds);
    for (const Other& o : scratch.others) scratch.bounds.push_back(boundOf(o, now.velocity, options.secondsAhead, dt()));
    Vec3 v = nearestWithin(wanted, f.speed, scratch.bounds);
    v = f.hovers() ? now.velocity + clampLength(v - now.velocity, f.acceleration * dt()) : flyingOn(f, now, v);
    // What must not happen in this step, whatever momentum says.
    scratch.bounds.clear();
    boundsOfWalls(space, now.at, f.speed * 2 * dt(), dt(), scratch.bounds, which);
    for (const Other& o : scratch.others) scratch.bounds.push_back(roomOf(o, dt()));
    boundClimb(f, scratch.bounds);
    v = nearestWithin(v, f.speed, scratch.bounds);
    std::optional<Vec3> to;
    for (double share = 1; !to && share > 0.2; share /= 2) to = stepTo(i, v * share, scratch.bounds, which);
    body.at = to.value_or(now.at), body.velocity = (body.at - now.at) / dt();
    turn(i, body, now.velocity);
    if (!followers[i].empty()) turnFront(i, body);
    follow(i, body, blind);
    if (held && body.state == FlightState::flying) body.state = FlightState::waiting;
  }

  /// Arrivals, and whether another way is wanted.
  void follow(std::size_t i, Airborne& body, bool blind) {
    Plan& plan = plans[i];
    const Flyer& f = flyerOf(i);
    const double missing = glm::distance(body.at, goalOf(i));
    if (body.state != FlightState::arrived && missing <= f.arriveWithin) {
      if (pilots[i].round.empty()) body.state = FlightState::arrived;
      if (!pilots[i].round.empty()) ++plan.goal, plan.again = true;
      if (!f.hovers()) plan.again = true;
      plan.tries = 0;
      return;
    }
    if (body.state == FlightState::arrived && f.hovers()) {
      if (missing > 3 * f.arriveWithin + f.radius) body.state = FlightState::flying, plan.again = true;
      return;
    }
    if (body.inPlace) {
      plan.waited = body.waits = 0;
      return;
    }
    const double left = plan.lengthFrom(body.at, bodies[i].waypoint);
    if (plan.partial && left <= f.arriveWithin && f.hovers()) {  // nothing changes while they fly: there will be no other way
      if (pilots[i].round.empty()) body.state = FlightState::stuck;
      if (!pilots[i].round.empty()) ++plan.goal, plan.again = true;
      return;
    }
    if (left < plan.left - 0.05) {
      plan.left = left, plan.waited = 0, body.waits = std::max(body.waits - 3 * dt(), 0.0);
      if (body.state == FlightState::stuck) body.state = FlightState::flying, plan.tries = 0;
      return;
    }
    plan.waited += dt();
    body.waits += dt();
    if (plan.waited < (blind ? 0.3 : tuning::kPatience)) return;
    plan.again = true;
    if (!blind && ++plan.tries >= tuning::kTries && body.state == FlightState::flying) body.state = FlightState::stuck;
  }

  void sortByX() {
    byX.resize(bodies.size());
    for (std::uint32_t i = 0; i < byX.size(); ++i) byX[i] = i;
    std::sort(byX.begin(), byX.end(),
              [&](std::uint32_t a, std::uint32_t b) { return bodies[a].at.x != bodies[b].at.x ? bodies[a].at.x < bodies[b].at.x : a < b; });
  }
};

Fleet::Fleet(std::unique_ptr<State> state) : state_(std::move(state)) {}
Fleet::Fleet(Fleet&&) noexcept = default;
Fleet& Fleet::operator=(Fleet&&) noexcept = default;
Fleet::~Fleet() = default;

Result<Fleet> Fleet::make(std::vector<const Space*> spaces, std::vector<Pilot> pilots, const FleetOptions& options, Job& job) {
  auto state = std::make_unique<State>();
  state->spaces = std::move(spaces), state->pilots = std::move(pilots), state->options = options;
  if (!(options.rate >= 5 && options.rate <= 1000))
    return Problem{ProblemCode::usage, "The steps a second make no sense.", "", "a rate from 5 to 1000."};
  for (const Space* s : state->spaces) state->searchers.push_back(std::make_unique<Searcher>(*s));
  state->bodies.resize(state->pilots.size()), state->plans.resize(state->pilots.size()), state->followers.resize(state->pilots.size());
  for (std::size_t i = 0; i < state->pilots.size(); ++i) {
    const auto leader = state->pilots[i].leader;
    if (!leader) continue;
    if (*leader >= state->pilots.size() || state->pilots[*leader].leader || state->pilots[*leader].space != state->pilots[i].space)
      return Problem{ProblemCode::unusable, "Flyer " + std::to_string(state->pilots[i].id) + " has a leader that cannot lead it.", "",
                     "one of the same kind that flies by itself."};
    state->followers[*leader].push_back(i);
  }
  for (std::size_t i = 0; i < state->pilots.size(); ++i) {
    if (job.cancelled()) return Job::cancelledProblem();
    const Pilot& p = state->pilots[i];
    Airborne& body = state->bodies[i];
    body.at = body.aim = p.start, body.heading = body.front = p.heading;
    const Way way = state->ask(i);
    if (way.outcome == Way::Outcome::none)
      return Problem{ProblemCode::unusable, "Flyer " + std::to_string(p.id) + " cannot begin. " + way.why, "", "another start or goal."};
    if (!state->flyerOf(i).hovers()) body.velocity = Vec3(std::cos(p.heading), 0, -std::sin(p.heading)) * state->flyerOf(i).leastSpeed;
  }
  state->next = state->bodies;
  return Fleet(std::move(state));
}

bool Fleet::step(Job& job, std::span<const Mover> movers) {
  State& s = *state_;
  for (std::size_t i = 0; i < s.bodies.size(); ++i)
    if (s.plans[i].again) s.ask(i);
  s.sortByX();
  Job quiet(job, Job::Quiet{});
  const std::size_t groups = (s.bodies.size() + 31) / 32;
  const bool done = parallelFor(
      quiet, groups,
      [&](std::size_t g) {
        State::Scratch scratch;
        for (std::size_t i = g * 32; i < std::min(g * 32 + 32, s.bodies.size()); ++i) s.decide(i, movers, scratch);
      },
      1);
  if (!done) return false;
  std::swap(s.bodies, s.next);
  ++s.steps;
  return true;
}

double Fleet::time() const { return state_->time(); }
std::size_t Fleet::size() const { return state_->bodies.size(); }
const std::vector<Airborne>& Fleet::bodies() const { return state_->bodies; }
const Pilot& Fleet::pilot(std::size_t i) const { return state_->pilots[i]; }
const Flyer& Fleet::flyer(std::size_t i) const { return state_->flyerOf(i); }
const std::vector<Vec3>& Fleet::way(std::size_t i) const { return state_->plans[i].way; }

}  // namespace dune::flight
