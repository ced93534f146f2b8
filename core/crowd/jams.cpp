#include "core/crowd/jams.h"

#include <algorithm>
#include <functional>

#include "core/base/plan_geometry.h"
#include "core/crowd/progress.h"
#include "core/crowd/yard_places.h"

namespace dune::crowd {

namespace {

constexpr std::uint32_t kNobody = UINT32_MAX;

constexpr double kLooksEvery = 0.5;               // s between looks at who gets on
constexpr double kJammedFor = 4, kPatient = 12;   // s without getting on; where many have room abreast, which mostly comes right by itself
constexpr double kTurns = 60;                     // s, where they take turns
constexpr double kElsewhere = 4;                  // m between goals that nobody mixes up
constexpr double kMany = 8;                       // radii of cross-section in which many have
constexpr double kGotOn = 3;                      // s ago: it gets on
constexpr double kAhead = 3, kAheadCosine = 0.5;  // m, cosine: those in the way ahead
constexpr std::size_t kLongest = 200;             // bodies one behind the other that are looked at
constexpr double kPassPlay = 0.05;                // m: two pass each other with so much more than their width

constexpr std::size_t kMostLed = 150;                   // bodies
constexpr double kNearReach = 12, kReach = 40;          // m
constexpr double kFullest = 0.75;                       // bodies a place
constexpr double kTryAgain = 15;                        // s, where no way was found
constexpr double kNearPlace = 0.47, kStraightOn = 0.7;  // m from its place at which who turns there, or goes straight on, goes on
constexpr double kRightAt = 0.25;                       // m, where that failed: corners are not cut
constexpr std::uint32_t kAtOnce = 4;                    // times that it is tried again before others have time to get on by themselves
constexpr double kFirstWay = 1.5;                       // m to the first one
constexpr double kAt = 0.1;                             // m from the last one
constexpr double kTooLong = 4;                          // s to a place
constexpr double kOutside = 1;                          // m ahead of who waits outside

/// s without getting on after which it is jammed. Who was pushed from its place waits until the others have passed.
double patienceOf(const Body& b) { return b.beenThere || b.lane->left + b.lane->right >= kMany * b.who.radius ? kPatient : kJammedFor; }

/// Whether two want to one place.
bool wantSame(const Body& a, const Body& b) {
  return a.who.mesh == b.who.mesh && glm::distance(a.goal, b.goal) < a.who.radius + b.who.radius;
}

/// Those in the way ahead of a body.
void eachAhead(std::size_t self, const Picture& picture, const std::vector<Body>& bodies, const std::function<void(std::size_t)>& visit) {
  const Body& b = bodies[self];
  const Vec2 here = plan(b.place.position), way = plan(b.way.points[b.way.next]) - here;
  picture.eachNeighbour(self, kAhead, [&](const Seen& o) {
    if (glm::dot(o.at - here, way) > kAheadCosine * o.distance * glm::length(way)) visit(o.number);
  });
}

/// Whether others want to stand where it does, and nobody who wants elsewhere stands in its way: then they come as near as they let each
/// other, and no order of them is better.
bool isAmongItsOwn(std::size_t self, const Picture& picture, const std::vector<Body>& bodies) {
  bool shares = false, others = false;
  for (std::size_t i = 0; i < bodies.size() && !shares; ++i) shares = i != self && wantSame(bodies[self], bodies[i]);
  if (shares)
    eachAhead(self, picture, bodies,
              [&](std::size_t o) { others |= picture.settled[o] && glm::distance(bodies[self].goal, bodies[o].goal) > kElsewhere; });
  return shares && !others;
}

/// Whether it is behind others, or behind those behind others, of whom somebody gets on.
bool waitsItsTurn(std::size_t self, const Picture& picture, const std::vector<Body>& bodies) {
  std::vector<std::size_t> waiting{self};
  for (std::size_t k = 0; k < waiting.size(); ++k) {
    if (waiting.size() > kLongest) return true;
    bool getsOn = false;
    eachAhead(waiting[k], picture, bodies, [&](std::size_t o) {
      if (!goes(bodies[o]) || bodies[o].beenThere) return;  // pushed from its place, one goes to and fro
      getsOn |= bodies[o].progress.stalled < kGotOn;
      if (std::ranges::find(waiting, o) == waiting.end()) waiting.push_back(o);
    });
    if (getsOn) return true;
  }
  return false;
}

}  // namespace

void Jams::update(double now, const std::vector<Floor>& floors, const std::vector<Body>& bodies, const Picture& picture,
                  std::span<const std::optional<Narrow>> narrows) {
  tryAgain_.resize(bodies.size(), 0), failures_.resize(bodies.size(), 0), ledBy_.resize(bodies.size(), kNobody),
      memberOf_.resize(bodies.size());
  std::vector<std::size_t> again;
  for (auto& led : led_) {
    if (!led || goOn(*led, now, bodies)) continue;
    failures_[led->jammed] = led->failed ? failures_[led->jammed] + 1 : 0;
    if (led->failed && failures_[led->jammed] % kAtOnce != 0) again.push_back(led->jammed);
    release(*led), led.reset();
  }
  for (const std::size_t jammed : again) lead(jammed, now, floors, bodies);
  if (now - noticed_ < kLooksEvery) return;
  noticed_ = now;
  for (std::size_t i = 0; i < bodies.size(); ++i) {
    const Body& b = bodies[i];
    if (ledBy_[i] != kNobody || now < tryAgain_[i] || !goes(b)) continue;
    // Where one at a time goes through they take turns, which may take long.
    const bool single = b.passage || (narrows[i] && narrows[i]->width < 2 * b.who.radius + kPassPlay);
    if (!single && !b.lane) continue;
    if (b.progress.stalled < (single ? kTurns : patienceOf(b)) || isAmongItsOwn(i, picture, bodies) || waitsItsTurn(i, picture, bodies))
      continue;
    lead(i, now, floors, bodies);
  }
}

/// All that stand in it; false where they are too many, or are led already.
bool Jams::gather(Led& led, const Floor& floor, const std::vector<Body>& bodies) const {
  for (std::size_t i = 0; i < bodies.size(); ++i) {
    if (bodies[i].who.mesh != led.mesh || !stands(bodies[i])) continue;
    const std::uint32_t place = led.yard.placeOf(bodies[i].place.position);
    if (place == Yard::kNone || !leadsTo(floor, led.yard, bodies[i].place, place)) continue;
    if (ledBy_[i] != kNobody) return false;
    led.members.push_back({i, {}});
  }
  return led.members.size() <= kMostLed && static_cast<double>(led.members.size()) <= kFullest * static_cast<double>(led.yard.size());
}

/// Where one at a time goes through those near by alone, if that will do: the fewer, the sooner they are there.
void Jams::lead(std::size_t jammed, double now, const std::vector<Floor>& floors, const std::vector<Body>& bodies) {
  const Floor& floor = floors[bodies[jammed].who.mesh];
  tryAgain_[jammed] = now + kTryAgain;
  if (bodies[jammed].passage && leadWithin(kNearReach, jammed, now, floor, bodies)) return;
  leadWithin(kReach, jammed, now, floor, bodies);
}

bool Jams::leadWithin(double reach, std::size_t jammed, double now, const Floor& floor, const std::vector<Body>& bodies) {
  const Body& first = bodies[jammed];
  double radius = 0;
  for (const Body& b : bodies)
    if (b.who.mesh == first.who.mesh) radius = std::max(radius, b.who.radius);
  Led led;
  led.mesh = first.who.mesh, led.jammed = jammed, led.exactly = failures_[jammed] > 1;
  led.yard = Yard::around(floor.mesh(), first, radius, reach, &floor.rules());
  if (!led.yard.hasRoom() || !gather(led, floor, bodies)) return false;
  std::vector<const Body*> members;
  for (const Member& m : led.members) members.push_back(&bodies[m.body]);
  const std::vector<Shunted> shunted = shuntedIn(floor, led.yard, members);
  // Where its files lie askew they stand closer than its places.
  for (std::size_t m = 0; m < members.size(); ++m)
    if (glm::distance(plan(members[m]->place.position), led.yard.at(shunted[m].from)) > kFirstWay) return false;
  // What comes to nothing here comes to nothing for all of them.
  for (const Member& m : led.members) tryAgain_[m.body] = now + kTryAgain;
  const auto steps = shunt(led.yard, shunted);
  if (steps) setOut(led, now, shunted, *steps);
  return steps.has_value();
}

/// From steps at which all move at once, who comes to which place after whom.
void Jams::setOut(Led& led, double now, std::span<const Shunted> shunted, const Shunting& steps) {
  std::vector<std::uint32_t> visited(led.yard.size(), 0);
  led.left.assign(led.yard.size(), 0);
  const auto visit = [&](std::size_t m, std::uint32_t place) { led.members[m].visits.push_back({place, visited[place]++}); };
  for (std::size_t m = 0; m < shunted.size(); ++m) visit(m, shunted[m].from);
  for (const auto& step : steps)
    for (std::size_t m = 0; m < shunted.size(); ++m)
      if (step[m] != Yard::kNone && step[m] != led.members[m].visits.back().place) visit(m, step[m]);
  const auto number = static_cast<std::uint32_t>(std::ranges::find_if(led_, [](const auto& l) { return !l; }) - led_.begin());
  if (number == led_.size()) led_.emplace_back();
  for (std::uint32_t m = 0; m < led.members.size(); ++m) {
    Member& member = led.members[m];
    member.leaves = shunted[m].leaves, member.since = now;
    ledBy_[member.body] = number, memberOf_[member.body] = m;
  }
  led_[number] = std::move(led);
}

/// So near to its place that it may turn to the next one. Who goes straight on there need not be as near.
bool Jams::isNear(const Led& led, const Member& m, double off) {
  const double turns = led.exactly ? kRightAt : kNearPlace;
  if (off < turns || off >= kStraightOn || m.at == 0 || m.isLast()) return off < turns;
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
    all &= m.isLast() && (off < kAt || (near && now - m.since > kTooLong));
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

void Jams::release(const Led& led) {
  for (const Member& m : led.members)
    if (!m.gone) ledBy_[m.body] = kNobody, tryAgain_[m.body] = led.failed ? tryAgain_[m.body] : 0;
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
