#include "core/crowd/jams.h"

#include <algorithm>

#include "core/base/least_cost_pairs.h"
#include "core/base/plan_geometry.h"

namespace dune::crowd {

namespace {

constexpr std::uint32_t kNobody = UINT32_MAX;

constexpr double kLooksEvery = 0.5;               // s between looks at who gets on
constexpr double kGetsOn = 0.5;                   // m by which who gets on comes nearer
constexpr double kOtherWay = 2;                   // m: a way so much longer is another one
constexpr double kJammedFor = 4, kPatient = 12;   // s without getting on; where many have room abreast, which mostly comes right by itself
constexpr double kTurns = 60;                     // s, where they take turns
constexpr double kMany = 8;                       // radii of cross-section in which many have
constexpr double kGotOn = 3;                      // s ago: it gets on
constexpr double kAhead = 3, kAheadCosine = 0.5;  // m, cosine: those in the way ahead
constexpr std::size_t kLongest = 200;             // bodies one behind the other that are looked at
constexpr double kPassPlay = 0.05;                // m: two pass each other with so much more than their width

constexpr std::size_t kMostLed = 150;                   // bodies
constexpr double kFullest = 0.75;                       // bodies a place
constexpr double kAcross = 8;                           // times as bad: a place in another file than one's goal
constexpr double kExitStep = 0.5;                       // m
constexpr double kTryAgain = 15;                        // s, where no way was found
constexpr double kNearPlace = 0.47, kStraightOn = 0.7;  // m from its place at which who turns there, or goes straight on, goes on
constexpr double kAt = 0.1;                             // m from the last one
constexpr double kTooLong = 4;                          // s to a place
constexpr double kOutside = 1;                          // m ahead of who waits outside

/// s without getting on after which it is jammed.
double patienceOf(const Body& b) { return b.lane->left + b.lane->right >= kMany * b.who.radius ? kPatient : kJammedFor; }

double leftOfWay(const Body& b) {
  double metres = glm::distance(b.place.position, b.way.points[b.way.next]);
  for (std::size_t i = b.way.next; i + 1 < b.way.points.size(); ++i) metres += glm::distance(b.way.points[i], b.way.points[i + 1]);
  return metres;
}

bool stands(const Body& b) { return b.begun && !b.onLink() && b.state != State::offMesh && b.place.valid(); }

bool goes(const Body& b) { return stands(b) && !b.done && b.way.status == route::PathStatus::complete && b.way.next < b.way.points.size(); }

/// Whether others want to stand where it does: then they come as near as they let each other, and no order of them is better.
bool sharesGoal(std::size_t self, const std::vector<Body>& bodies) {
  const Body& b = bodies[self];
  for (std::size_t i = 0; i < bodies.size(); ++i)
    if (i != self && bodies[i].who.mesh == b.who.mesh && glm::distance(bodies[i].goal, b.goal) < bodies[i].who.radius + b.who.radius)
      return true;
  return false;
}

/// The last place of a yard that a body's way leads over before it leaves it.
std::uint32_t exitOf(const Yard& yard, const Body& b) {
  Vec3 at = b.place.position;
  std::uint32_t last = yard.placeOf(at);
  for (std::size_t i = b.way.next; i < b.way.points.size() && !b.way.linkAt(i - 1); ++i) {
    const double far = glm::distance(at, b.way.points[i]);
    for (double s = kExitStep; s < far; s += kExitStep) {
      const std::uint32_t place = yard.placeOf(at + (b.way.points[i] - at) * (s / far));
      if (place == Yard::kNone) return last;
      last = place;
    }
    at = b.way.points[i];
  }
  return last;
}

/// To each of them a place of the yard of its own that a straight line leads to, all as near as can be; `across` is how much more metres
/// across the files count.
std::vector<std::uint32_t> placesFor(const nav::NavMesh& mesh, const Yard& yard, const std::vector<nav::Place>& all, double across) {
  constexpr double kWithin = 3, kHidden = 1e4;  // m; m², as bad as what is farther, or behind a wall
  std::vector<double> costs;
  costs.reserve(all.size() * yard.size());
  for (const nav::Place& one : all)
    for (std::uint32_t i = 0; i < yard.size(); ++i) {
      const Vec2 off = yard.off(plan(one.position), i);
      const bool fits = glm::length(off) < kWithin && nav::castRay(mesh, one, yard.at(i)).reached;
      costs.push_back(off.x * off.x + across * off.y * off.y + (fits ? 0 : kHidden));
    }
  const auto pairs =
      leastCostPairs(all.size(), yard.size(), [&](std::size_t i, std::size_t place) { return costs[i * yard.size() + place]; });
  return {pairs.begin(), pairs.end()};
}

/// Where those in a yard are and want to be. Nobody crosses another's way to its first place, for squares of distances are least in all.
std::vector<Shunted> shuntedIn(const Floor& floor, const Yard& yard, const std::vector<const Body*>& members) {
  std::vector<Shunted> all(members.size());
  std::vector<nav::Place> from, to;
  std::vector<std::size_t> staying;
  for (std::size_t m = 0; m < members.size(); ++m) {
    const Body& b = *members[m];
    from.push_back(b.place);
    nav::Place goal = goes(b) ? floor.field().locator().nearest(b.way.points.back(), 1) : b.place;
    if (!goal.valid()) goal = b.place;
    all[m].leaves = yard.placeOf(goal.position) == Yard::kNone;
    if (all[m].leaves)
      all[m].to = exitOf(yard, b);
    else
      staying.push_back(m), to.push_back(goal);
  }
  const auto begins = placesFor(floor.mesh(), yard, from, 1), ends = placesFor(floor.mesh(), yard, to, kAcross);
  for (std::size_t m = 0; m < all.size(); ++m) all[m].from = begins[m];
  for (std::size_t k = 0; k < staying.size(); ++k) all[staying[k]].to = ends[k];
  return all;
}

}  // namespace

void Jams::update(double now, const std::vector<Floor>& floors, const std::vector<Body>& bodies, const Picture& picture,
                  std::span<const std::optional<Narrow>> narrows) {
  progress_.resize(bodies.size()), ledBy_.resize(bodies.size(), kNobody), memberOf_.resize(bodies.size());
  for (auto& led : led_) {
    if (!led || goOn(*led, now, bodies)) continue;
    const bool failed = led->failed;
    const std::size_t jammed = led->jammed;
    release(*led, now), led.reset();
    if (failed) return lead(jammed, now, floors, bodies);
  }
  if (now - noticed_ < kLooksEvery) return;
  noticed_ = now;
  notice(now, bodies);
  for (std::size_t i = 0; i < bodies.size(); ++i) {
    const Body& b = bodies[i];
    if (ledBy_[i] != kNobody || !goes(b)) continue;
    // Where one at a time goes through they take turns, which may take long.
    const bool single = b.passage || (narrows[i] && narrows[i]->width < 2 * b.who.radius + kPassPlay);
    if (!single && !b.lane) continue;
    if (sharesGoal(i, bodies)) continue;
    if (isJammed(i, now, single ? kTurns : patienceOf(b), picture, bodies)) lead(i, now, floors, bodies);
  }
}

void Jams::notice(double now, const std::vector<Body>& bodies) {
  for (std::size_t i = 0; i < bodies.size(); ++i) {
    Progress& p = progress_[i];
    const double left = goes(bodies[i]) ? leftOfWay(bodies[i]) : INFINITY;
    if (left == INFINITY || left < p.least - kGetsOn || left > p.least + kOtherWay) p = {left, std::max(p.since, now)};
  }
}

/// Who waits behind others, of whom somebody gets on, waits its turn.
bool Jams::isJammed(std::size_t self, double now, double patience, const Picture& picture, const std::vector<Body>& bodies) const {
  if (now - progress_[self].since < patience) return false;
  std::vector<std::size_t> waiting{self};
  for (std::size_t k = 0; k < waiting.size(); ++k) {
    if (waiting.size() > kLongest) return false;
    const std::size_t number = waiting[k];
    const Vec2 here = plan(bodies[number].place.position), way = plan(bodies[number].way.points[bodies[number].way.next]) - here;
    bool getsOn = false;
    picture.eachNeighbour(number, kAhead, [&](const Seen& o) {
      if (glm::dot(o.at - here, way) <= kAheadCosine * o.distance * glm::length(way) || !goes(bodies[o.number])) return;
      getsOn |= now - progress_[o.number].since < kGotOn;
      if (std::ranges::find(waiting, o.number) == waiting.end()) waiting.push_back(o.number);
    });
    if (getsOn) return false;
  }
  return true;
}

/// All that stand in it; false where they are too many, or are led already.
bool Jams::gather(Led& led, const nav::NavMesh& mesh, const std::vector<Body>& bodies) const {
  for (std::size_t i = 0; i < bodies.size(); ++i) {
    if (bodies[i].who.mesh != led.mesh || !stands(bodies[i])) continue;
    const std::uint32_t place = led.yard.placeOf(bodies[i].place.position);
    if (place == Yard::kNone || !nav::castRay(mesh, bodies[i].place, led.yard.at(place)).reached) continue;
    if (ledBy_[i] != kNobody) return false;
    led.members.push_back({i, {}});
  }
  return led.members.size() <= kMostLed && static_cast<double>(led.members.size()) <= kFullest * static_cast<double>(led.yard.size());
}

void Jams::lead(std::size_t jammed, double now, const std::vector<Floor>& floors, const std::vector<Body>& bodies) {
  const Body& first = bodies[jammed];
  const Floor& floor = floors[first.who.mesh];
  progress_[jammed].since = now + kTryAgain;
  double radius = 0;
  for (const Body& b : bodies)
    if (b.who.mesh == first.who.mesh) radius = std::max(radius, b.who.radius);
  Led led;
  led.mesh = first.who.mesh, led.jammed = jammed;
  led.yard = Yard::around(floor.mesh(), first, radius, &floor.rules());
  if (!led.yard.hasRoom() || !gather(led, floor.mesh(), bodies)) return;
  std::vector<const Body*> members;
  for (const Member& m : led.members) members.push_back(&bodies[m.body]);
  const std::vector<Shunted> shunted = shuntedIn(floor, led.yard, members);
  const auto steps = shunt(led.yard, shunted);
  if (!steps) return;
  setOut(led, shunted, *steps);
  const auto number = static_cast<std::uint32_t>(std::ranges::find_if(led_, [](const auto& l) { return !l; }) - led_.begin());
  if (number == led_.size()) led_.emplace_back();
  for (std::uint32_t m = 0; m < led.members.size(); ++m) {
    led.members[m].since = now;
    ledBy_[led.members[m].body] = number, memberOf_[led.members[m].body] = m;
  }
  led_[number] = std::move(led);
}

/// From steps at which all move at once, who comes to which place after whom.
void Jams::setOut(Led& led, std::span<const Shunted> shunted, const Shunting& steps) {
  std::vector<std::uint32_t> visited(led.yard.size(), 0);
  led.left.assign(led.yard.size(), 0);
  const auto visit = [&](std::size_t m, std::uint32_t place) { led.members[m].visits.push_back({place, visited[place]++}); };
  for (std::size_t m = 0; m < shunted.size(); ++m) visit(m, shunted[m].from), led.members[m].leaves = shunted[m].leaves;
  for (const auto& step : steps)
    for (std::size_t m = 0; m < shunted.size(); ++m)
      if (step[m] != Yard::kNone && step[m] != led.members[m].visits.back().place) visit(m, step[m]);
}

/// So near to its place that it may turn to the next one. Who goes straight on there need not be as near.
bool Jams::isNear(const Led& led, const Member& m, double off) {
  if (off < kNearPlace || off >= kStraightOn || m.at == 0 || m.isLast()) return off < kNearPlace;
  const Vec2 here = led.placeOf(m), came = here - led.yard.at(m.visits[m.at - 1].place), on = led.yard.at(m.visits[m.at + 1].place) - here;
  return glm::dot(came, on) > 0.9 * glm::length(came) * glm::length(on);
}

/// Whoever is near its place goes on to the next once all who have to be there before have gone on from there; several at once in a row, or
/// around. False once all are at their last, or somebody does not get to its place. Source: Hönig, Kiesel, Tinka, Durham & Ayanian,
/// "Persistent and robust execution of MAPF schedules in warehouses", IEEE Robotics and Automation Letters 4(2), 2019.
bool Jams::goOn(Led& led, double now, const std::vector<Body>& bodies) {
  std::vector<Member*> holder(led.yard.size(), nullptr);
  std::vector<char> may(led.members.size(), 0);
  bool all = true;
  for (Member& m : led.members) {
    if (m.gone) continue;
    const double off = glm::distance(plan(bodies[m.body].place.position), led.placeOf(m));
    const bool near = isNear(led, m, off);
    if (near && m.isLast() && m.leaves) {
      ++led.left[m.here().place], m.gone = true, ledBy_[m.body] = kNobody;
      continue;
    }
    holder[m.here().place] = &m;
    may[static_cast<std::size_t>(&m - led.members.data())] = near && !m.isLast();
    all &= m.isLast() && off < kAt;
    led.failed |= !near && now - m.since > kTooLong;
  }
  if (all || led.failed) return false;
  const auto isFree = [&](const Visit& next) {
    const Member* before = holder[next.place];
    const bool leaves = before && may[static_cast<std::size_t>(before - led.members.data())];
    return led.left[next.place] >= next.turn || (led.left[next.place] + 1 == next.turn && leaves);
  };
  for (bool changed = true; changed;) {
    changed = false;
    for (std::size_t m = 0; m < may.size(); ++m)
      if (may[m] && !isFree(led.members[m].visits[led.members[m].at + 1])) may[m] = 0, changed = true;
  }
  for (std::size_t m = 0; m < may.size(); ++m)
    if (may[m]) ++led.left[led.members[m].here().place], ++led.members[m].at, led.members[m].since = now;
  return true;
}

void Jams::release(const Led& led, double now) {
  for (const Member& m : led.members)
    if (!m.gone) ledBy_[m.body] = kNobody, progress_[m.body] = {INFINITY, now};
}

std::optional<Vec2> Jams::leadTo(std::size_t body) const {
  if (body >= ledBy_.size() || ledBy_[body] == kNobody) return std::nullopt;
  const Led& led = *led_[ledBy_[body]];
  return led.placeOf(led.members[memberOf_[body]]);
}

bool Jams::waitsOutside(std::size_t number, const Body& b) const {
  const double wanted = glm::length(b.wanted);
  if (wanted < 1e-6 || number >= ledBy_.size() || ledBy_[number] != kNobody) return false;
  const Vec3 ahead = b.place.position + lift(b.wanted * (kOutside / wanted), 0);
  return std::ranges::any_of(led_, [&](const std::optional<Led>& led) {
    return led && led->mesh == b.who.mesh && led->yard.placeOf(b.place.position) == Yard::kNone && led->yard.placeOf(ahead) != Yard::kNone;
  });
}

}  // namespace dune::crowd
