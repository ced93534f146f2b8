// Typical size: 10 to 10 000 bodies, 30 steps a second. The hot parts are finding neighbours (a uniform grid rebuilt each step), the
// half-planes, and the border around a body, which is found by walking over faces.
//
// A body on its path needs no walls to keep to: its step slides along the border and cannot pass it. Walls are told to the avoidance only,
// which would otherwise choose velocities into them.

#include "core/crowd/crowd.h"

#include <algorithm>

#include "core/base/parallel.h"
#include "core/base/plan_geometry.h"
#include "core/base/plan_grid.h"
#include "core/crowd/following.h"
#include "core/crowd/half_planes.h"
#include "core/crowd/narrows.h"

namespace dune::crowd {

namespace {

using nav::kNoFace;

constexpr std::size_t kWorthThreads = 128;  // bodies
constexpr double kStuckAfter = 2.0;         // s of standing before the state says so
constexpr double kTurnBeforeGo = 100;       // degrees off the wanted heading at which a body slows down to turn
constexpr double kSideStep = 0.35;          // of the top speed, at which a body may go any way whatever its heading
constexpr double kLinkSpeed = 0.8;          // of walking speed, on links
constexpr double kStoreyApart = 0.75;       // of a body's height unless known: farther apart in height, bodies do not meet
constexpr double kPacked = 1.3;             // radii of the densest packing around a taken goal
constexpr double kTouching = 0.12;          // m between bodies that stand together
constexpr double kKeepRight = 7.0;          // degrees by which a body that meets others turns its way to the right
constexpr double kPatience = 20;            // s that a body waits for others before a narrow place

/// A number from 0 to 1 that is a body's own.
double ownNumber(int id) {
  auto h = static_cast<std::uint64_t>(static_cast<std::uint32_t>(id)) * 0x9E3779B97F4A7C15ull;
  h ^= h >> 31;
  return static_cast<double>(h * 0xBF58476D1CE4E5B9ull >> 11) / 9007199254740992.0;
}

Vec2 turned(const Vec2& v, double angle) {
  const double c = std::cos(angle), s = std::sin(angle);
  return {v.x * c - v.y * s, v.x * s + v.y * c};
}

std::optional<Problem> check(const std::vector<Walker>& walkers, const SceneOptions& options) {
  auto bad = [](const std::string& what, const std::string& where) {
    return Problem{ProblemCode::usage, what, where, "positive, finite numbers."};
  };
  if (!(options.rate > 0 && options.rate <= 1000)) return bad("The rate must be between 0 and 1000 steps a second.", "");
  for (const Walker& w : walkers) {
    const bool sane = isFinite(w.start) && isFinite(w.goal) && w.radius > 0 && w.speed > 0 && w.acceleration > 0 && w.turnRate > 0 &&
                      w.passWithin >= 0 && w.arriveWithin >= 0 &&
                      std::isfinite(w.radius + w.speed + w.acceleration + w.startTime + w.turnRate + w.passWithin + w.arriveWithin);
    if (!sane) return bad("An agent has a number that makes no sense.", "agent " + std::to_string(w.id));
  }
  std::vector<int> ids;
  for (const Walker& w : walkers) ids.push_back(w.id);
  std::sort(ids.begin(), ids.end());
  if (const auto twice = std::adjacent_find(ids.begin(), ids.end()); twice != ids.end())
    return Problem{ProblemCode::unusable, "Two agents have the same id.", "agent " + std::to_string(*twice),
                   "giving every agent an id of its own."};
  return std::nullopt;
}

}  // namespace

class Crowd::Simulation {
 public:
  Simulation(const route::Field& field, const std::vector<Walker>& walkers, const SceneOptions& options)
      : field_(field), mesh_(field.mesh()), options_(options), following_(field), dt_(1 / options.rate) {
    for (const Walker& w : walkers) {
      Body& body = bodies_.emplace_back();
      body.who = w;
      body.place = field.locator().nearest(w.start, 2);
      if (!body.place.valid()) body.state = State::offMesh, body.place.position = w.start;
      const Vec2 ahead = plan(w.goal) - plan(w.start);
      body.heading = glm::length(ahead) > 0 ? std::atan2(ahead.y, ahead.x) : 0;
    }
    std::sort(bodies_.begin(), bodies_.end(), [](const Body& a, const Body& b) { return a.who.id < b.who.id; });
    chosen_.resize(bodies_.size());
    show();
  }

  bool step(Job& job) {
    now_ = now();
    index();
    const bool whole = eachBody(job, [&](std::size_t i) { chosen_[i] = decide(i); });
    if (!whole) return false;
    eachBody(job, [&](std::size_t i) { move(i, chosen_[i]); });
    ++steps_;
    show();
    return true;
  }
  double now() const { return static_cast<double>(steps_) * dt_; }
  std::size_t size() const { return bodies_.size(); }
  const Walker& walker(std::size_t body) const { return bodies_[body].who; }
  const std::vector<BodyState>& shown() const { return shown_; }

 private:
  /// Another body as it was at the begin of the step.
  struct Seen {
    std::size_t number;
    Vec2 at, velocity;
    double distance;
  };

  /// Small crowds are not worth the threads.
  bool eachBody(Job& job, const std::function<void(std::size_t)>& body) {
    if (bodies_.size() >= kWorthThreads) {
      Job part(job, Job::Quiet{});
      parallelFor(part, bodies_.size(), body);
    } else {
      for (std::size_t i = 0; i < bodies_.size(); ++i) body(i);
    }
    return !job.cancelled();
  }

  void show() {
    shown_.resize(bodies_.size());
    waited_.resize(bodies_.size()), aims_.resize(bodies_.size()), wants_.resize(bodies_.size()), narrows_.resize(bodies_.size()),
        seenNarrows_.resize(bodies_.size()), left_.resize(bodies_.size());
    for (std::size_t i = 0; i < bodies_.size(); ++i) {
      const Body& b = bodies_[i];
      shown_[i] = {b.place.position, lift(b.velocity, 0), lift(b.wanted, 0), b.state, b.place.face};
      waited_[i] = b.standing;
      aims_[i] = b.aim;
      seenNarrows_[i] = narrows_[i];
      const bool goes = !b.done && b.way.next < b.way.points.size();
      wants_[i] = goes ? plan(b.way.points[b.way.next]) - plan(b.place.position) : Vec2{0};
      left_[i] = b.way.next < b.way.points.size() ? glm::distance(b.place.position, b.way.points[b.way.next]) : 0;
    }
  }

  void index() {
    std::vector<Box2> boxes(bodies_.size());
    for (std::size_t i = 0; i < bodies_.size(); ++i) boxes[i].add(plan(shown_[i].at));
    grid_ = PlanGrid(boxes, 2.0);
  }

  template <class Visit>
  void eachNeighbour(std::size_t self, double reach, Visit&& visit) const {
    Box2 box;
    const Vec2 here = plan(shown_[self].at);
    box.add(here);
    thread_local std::vector<std::uint32_t> found;
    grid_.collect(box.grown(reach), found);
    for (const std::uint32_t i : found) {
      const BodyState& other = shown_[i];
      if (i == self || other.face == kNoFace || other.state == State::link || other.state == State::offMesh) continue;
      if (std::abs(other.at.y - shown_[self].at.y) > kStoreyApart * mesh_.agent.height) continue;
      const Vec2 at = plan(other.at);
      visit(Seen{i, at, plan(other.velocity), glm::distance(at, here)});
    }
  }

  /// The velocity for the next step, from everybody's state at its begin.
  Vec2 decide(std::size_t i) {
    Body& b = bodies_[i];
    if (b.state == State::offMesh || b.onLink()) return b.velocity;
    if (b.who.startTime > now_) {
      b.state = State::waiting;
      return Vec2{0};
    }
    b.wanted = following_.wanted(b, now_);
    b.wanted = takingTurns(i);
    const bool taken = !b.done && goalIsTaken(i);
    if (taken) b.done = true, b.wanted = Vec2{0};
    b.state = b.done                     ? (b.way.status == route::PathStatus::complete ? State::arrived : State::stuck)
              : b.standing > kStuckAfter ? State::stuck
                                         : State::moving;
    if (following_.atFoot(b)) {
      if (footIsFree(i)) takeOff(b);
      return Vec2{0};
    }
    b.aim = avoiding(i);
    return withoutContact(i, limited(b, b.aim));
  }

  /// What it wants, as far as it is its turn at a narrow place.
  Vec2 takingTurns(std::size_t i) {
    constexpr std::size_t kEvery = 8;   // steps between looks for narrow places
    constexpr double kSeesOthers = 12;  // m, along lanes
    constexpr double kFarRight = 3;     // m
    Body& b = bodies_[i];
    if ((steps_ + i) % kEvery == 0) narrows_[i] = narrowAhead(mesh_, b, &field_.rules());
    if (!narrows_[i]) return b.wanted;
    thread_local std::vector<Passer> others;
    others.clear();
    eachNeighbour(i, kSeesOthers, [&](const Seen& o) {
      const Vec2 aim = wants_[o.number];
      const double length = glm::length(aim);
      others.push_back({o.at, o.velocity, length > 0.05 ? aim / length : Vec2{0}, bodies_[o.number].who.radius, bodies_[o.number].who.id,
                        seenNarrows_[o.number]});
    });
    if (others.empty()) return b.wanted;
    const Vec2 here = plan(b.place.position), right = -leftOf(narrows_[i]->along);
    const double room = glm::distance(here, plan(nav::castRay(mesh_, b.place, here + right * kFarRight, &field_.rules()).end.position));
    const Turn turn = inTurn(b, *narrows_[i], room, others, b.inTurn < kPatience * (1 + ownNumber(b.who.id)));
    b.inTurn = turn.waits ? b.inTurn + dt_ : std::max(0.0, b.inTurn - dt_);
    return turn.wanted;
  }

  /// What no step may do: of the room between two bodies each takes half at the most, so that they never overlap. Standing is allowed
  /// always.
  void addContacts(std::size_t self, std::vector<HalfPlane>& planes) const {
    const Body& b = bodies_[self];
    const Vec2 here = plan(b.place.position);
    eachNeighbour(self, contactReach(b), [&](const Seen& other) {
      if (other.distance < 1e-9) return;
      const Vec2 towards = (other.at - here) / other.distance;
      const double most = closing(self, other);
      planes.push_back({towards * most, Vec2{-towards.y, towards.x}});
    });
  }
  /// How fast a body may come nearer to another, m/s; below zero where they overlap, for then they part.
  double closing(std::size_t self, const Seen& other) const {
    constexpr double kParts = 0.5;  // m/s
    const double gap = other.distance - bodies_[self].who.radius - bodies_[other.number].who.radius;
    return gap >= 0 ? gap / (2 * dt_) : std::max(gap / (2 * dt_), -kParts);
  }
  double contactReach(const Body& b) const { return 2 * b.who.radius + 2 * b.who.speed * dt_ + 0.5; }

  Vec2 withoutContact(std::size_t self, const Vec2& velocity) const {
    const Body& b = bodies_[self];
    thread_local std::vector<HalfPlane> planes;
    planes.clear();
    addContacts(self, planes);
    const auto broken = [&](const HalfPlane& p) { return cross(p.direction, velocity - p.point) < 0; };
    if (std::ranges::none_of(planes, broken)) return velocity;
    addWalls(b, planes);
    return nearestAllowed(planes, planes.size(), velocity, b.who.speed);
  }

  /// A step slides along the border, which may lead it into somebody after all; then it is shorter.
  double shortened(std::size_t self, const Vec2& step) const {
    double part = 1;
    eachNeighbour(self, contactReach(bodies_[self]), [&](const Seen& other) {
      if (other.distance < 1e-9) return;
      const double nearer = glm::dot(step, other.at - plan(shown_[self].at)) / other.distance,
                   most = std::max(0.0, closing(self, other) * dt_);
      if (nearer > most + 1e-12) part = std::min(part, most / nearer);
    });
    return part;
  }

  /// Whether bodies that have arrived stand on its goal, and it is as near as these let it come.
  bool goalIsTaken(std::size_t self) const {
    const Body& b = bodies_[self];
    if (b.way.status != route::PathStatus::complete || !b.way.atLast() || b.way.points.empty()) return false;
    const Vec2 goal = plan(b.way.points.back()), here = plan(b.place.position);
    const double distance = glm::distance(goal, here);
    if (std::abs(b.way.points.back().y - b.place.position.y) > 0.5 || distance > 60 * b.who.radius) return false;
    bool taken = false, touches = false;
    double area = 0;  // of the bodies nearer to it that have arrived, or want there too
    eachNeighbour(self, distance + b.who.radius, [&](const Seen& other) {
      const double radius = bodies_[other.number].who.radius, away = glm::distance(other.at, goal);
      const bool there = shown_[other.number].state == State::arrived;
      if (away >= distance || (!there && glm::distance(bodies_[other.number].who.goal, b.who.goal) > 2 * radius)) return;
      area += radius * radius;
      taken |= there;
      touches |= there && other.distance < b.who.radius + radius + kTouching;
    });
    constexpr double kDensest = 0.9069,
                     kGivesUp = 0.5;  // of the plane that equal circles can cover; s of standing before those who arrived
    return taken && (touches || b.standing > kGivesUp) &&
           distance <= kPacked * std::sqrt((area + b.who.radius * b.who.radius) / kDensest) + b.who.radius;
  }

  /// One after the other: nobody is still near the foot on the same flight.
  bool footIsFree(std::size_t self) const {
    const Body& b = bodies_[self];
    const Vec3& foot = b.way.points[b.way.next];
    for (std::size_t i = 0; i < shown_.size(); ++i)
      if (i != self && shown_[i].state == State::link && glm::distance(shown_[i].at, foot) < b.who.radius + bodies_[i].who.radius)
        return false;
    return true;
  }

  Vec2 avoiding(std::size_t self) const {
    const Body& b = bodies_[self];
    thread_local std::vector<Seen> near;
    near.clear();
    const Avoidance& a = options_.avoidance;
    eachNeighbour(self, a.neighbourRange, [&](const Seen& other) { near.push_back(other); });
    if (near.empty()) return b.wanted;
    std::stable_sort(near.begin(), near.end(), [](const Seen& x, const Seen& y) { return x.distance < y.distance; });
    if (near.size() > static_cast<std::size_t>(a.mostNeighbours)) near.resize(static_cast<std::size_t>(a.mostNeighbours));
    thread_local std::vector<HalfPlane> planes;
    planes.clear();
    addWalls(b, planes);
    const std::size_t hard = planes.size();
    Vec2 wanted = b.wanted;
    if (meetsSomebody(b, near)) wanted = turned(wanted, -radians(kKeepRight * (0.5 + ownNumber(b.who.id))));
    for (const Seen& other : near) {
      planes.push_back(against(self, other));
      makeWay(self, other, planes);
    }
    return nearestAllowed(planes, hard, wanted, b.who.speed);
  }

  /// Who goes first and is held up asks for room. Whom it touches gives way: aside where it comes towards it, for pushed back it would go
  /// where it came from; along where both go the same way. Who has arrived steps aside for one who waits, and comes back.
  void makeWay(std::size_t self, const Seen& other, std::vector<HalfPlane>& planes) const {
    constexpr double kClose = 0.15, kFastest = 1, kAsks = 0.5;  // m, m/s, s of standing
    const Body& b = bodies_[self];
    const double gap = other.distance - b.who.radius - bodies_[other.number].who.radius;
    if (gap > kClose || other.distance < 1e-9 || shown_[other.number].state == State::arrived) return;
    const bool rests = b.state == State::arrived;
    if (rests ? waited_[other.number] < kAsks : goesFirst(self, other.number)) return;
    const Vec2 inward = (plan(b.place.position) - other.at) / other.distance, aim = aims_[other.number];
    const double asked = std::min(kFastest, glm::dot(aim, inward));
    if (asked <= 0.02) return;
    Vec2 way = inward;
    if (rests || glm::dot(aim, b.wanted) < 0) way = (cross(aim, inward) >= 0 ? leftOf(aim) : -leftOf(aim)) / glm::length(aim);
    planes.push_back({way * asked, Vec2{way.y, -way.x}});
  }

  /// Whether one of the others comes towards it from ahead: then all keep to one side.
  bool meetsSomebody(const Body& b, const std::vector<Seen>& near) const {
    const double speed = glm::length(b.wanted);
    return speed > 0 && std::ranges::any_of(near, [&](const Seen& other) {
             const Vec2 apart = other.at - plan(b.place.position);
             return glm::dot(apart, b.wanted) > 0.5 * other.distance * speed && glm::dot(other.velocity, b.wanted) < -0.1 * speed;
           });
  }

  /// The mesh already keeps the radius: the centre may come up to its border, and no further. Only where the border lies beside the body;
  /// past its ends the body goes around.
  void addWalls(const Body& b, std::vector<HalfPlane>& planes) const {
    thread_local std::vector<nav::BorderEdge> edges;
    const double reach = b.who.speed * options_.avoidance.wallAhead + 0.05;
    nav::borderAround(mesh_, b.place, reach, &field_.rules(), edges);
    const Vec2 here = plan(b.place.position);
    for (const nav::BorderEdge& e : edges) {
      const Vec2 line = e.b - e.a;
      const double length = glm::length(line), along = glm::dot(here - e.a, line) / (length * length);
      const double distance = cross(line, here - e.a) / length;
      if (length < 1e-9 || along < 0 || along > 1 || distance < -1e-6) continue;
      const Vec2 inward = leftOf(line) / length;
      planes.push_back({inward * (-std::max(0.0, distance) / options_.avoidance.wallAhead), Vec2{inward.y, -inward.x}});
    }
  }

  /// How much of what keeps two bodies apart is this one's to do. Who has arrived gives way less; else who is nearer to the next corner of
  /// its way goes first, so that nobody waits for one who waits for him.
  double share(std::size_t self, const Seen& other) const {
    const State mine = bodies_[self].state, theirs = shown_[other.number].state;
    const bool rests = theirs == State::arrived || theirs == State::waiting, iRest = mine == State::arrived || mine == State::waiting;
    if (rests != iRest) return rests ? 0.9 : 0.1;
    return goesFirst(self, other.number) ? 0.25 : 0.75;
  }
  bool goesFirst(std::size_t a, std::size_t b) const { return left_[a] != left_[b] ? left_[a] < left_[b] : a < b; }

  /// How much of the time to look ahead a body heeds: all of it while it gets on as it wants. Held up in a crowd it looks at the next step
  /// only, for with much care nobody moves; that nobody touches is seen to otherwise.
  static double foresight(const Body& b) {
    constexpr double kLeast = 0.5, kSteep = 8;
    const double wanted2 = glm::dot(b.wanted, b.wanted);
    const double getsOn = wanted2 > 0.0025 ? std::clamp(glm::dot(b.velocity, b.wanted) / wanted2, 0.0, 1.0) : 1;
    return kLeast + (1 - kLeast) * std::pow(getsOn, kSteep);
  }

  /// The half-plane of velocities with which two bodies do not touch within the time to look ahead (van den Berg et al. 2011, section 4).
  HalfPlane against(std::size_t self, const Seen& other) const {
    const Body& b = bodies_[self];
    const Vec2 apart = other.at - plan(b.place.position), relative = b.velocity - other.velocity;
    const double radius = b.who.radius + bodies_[other.number].who.radius + options_.avoidance.spacing, distance2 = glm::dot(apart, apart);
    const double ahead = options_.avoidance.lookAhead * foresight(b);
    Vec2 change, direction;
    if (distance2 > radius * radius) {
      const Vec2 w = relative - apart / ahead;
      const double w2 = glm::dot(w, w), along = glm::dot(w, apart);
      if (along < 0 && along * along > radius * radius * w2) {
        const double length = std::sqrt(w2);  // the round front of the cone
        const Vec2 unit = w / length;
        direction = {unit.y, -unit.x};
        change = unit * (radius / ahead - length);
      } else {
        const double leg = std::sqrt(distance2 - radius * radius);
        if (cross(apart, w) > 0)
          direction = Vec2{apart.x * leg - apart.y * radius, apart.x * radius + apart.y * leg} / distance2;
        else
          direction = -Vec2{apart.x * leg + apart.y * radius, -apart.x * radius + apart.y * leg} / distance2;
        change = direction * glm::dot(relative, direction) - relative;
      }
    } else {
      // Already touching: part within a few steps. Bodies on one spot part by their numbers.
      const double part = std::max(dt_, 0.1);
      const Vec2 w = relative - apart / part;
      double length = glm::length(w);
      Vec2 unit = length > 1e-9 ? w / length : Vec2{b.who.id < bodies_[other.number].who.id ? 1.0 : -1.0, 0};
      direction = {unit.y, -unit.x};
      change = unit * (radius / part - length);
    }
    return {b.velocity + change * share(self, other), direction};
  }

  /// The velocity within acceleration and turning rate.
  Vec2 limited(const Body& b, const Vec2& want) const {
    const double speed = glm::length(want);
    Vec2 target = want;
    if (speed > 0.05) {
      const double angle = std::atan2(want.y, want.x);
      const double off = std::remainder(angle - b.heading, 2 * kPi), most = radians(b.who.turnRate) * dt_;
      if (std::abs(off) > most) {
        const double heading = b.heading + std::copysign(most, off);
        const double slower = std::clamp(1 - std::abs(off) / radians(kTurnBeforeGo), 0.0, 1.0);
        // Slowly one can step to any side.
        const double sideways = std::min(speed, kSideStep * b.who.speed);
        target = speed * slower > sideways ? Vec2{std::cos(heading), std::sin(heading)} * speed * slower : want * (sideways / speed);
      }
    }
    const Vec2 change = target - b.velocity;
    const double most = b.who.acceleration * dt_, length = glm::length(change);
    return length > most ? b.velocity + change * (most / length) : target;
  }

  void move(std::size_t self, const Vec2& velocity) {
    Body& b = bodies_[self];
    if (b.state == State::offMesh) return;
    if (b.onLink()) return fly(b);
    turn(b);
    if (b.who.startTime > now_) return;
    const Vec2 here = plan(b.place.position);
    const nav::Place from = b.place;
    b.place = nav::stepBy(mesh_, from, velocity * dt_, &field_.rules());
    const Vec2 step = plan(b.place.position) - here;
    if (const double part = shortened(self, step); part < 1) b.place = nav::stepBy(mesh_, from, step * part, &field_.rules());
    b.velocity = (plan(b.place.position) - here) / dt_;
    // Standing is not getting on, however much it moves.
    const double wanted = glm::length(b.wanted);
    const bool getsOn = wanted < 0.05 || glm::dot(b.velocity, b.wanted) > 0.1 * wanted * std::min(wanted, 0.5);
    b.standing = getsOn ? std::max(0.0, b.standing - 4 * dt_) : b.standing + dt_;
  }

  void turn(Body& b) const {
    const Vec2 aim = glm::length(b.aim) > 0.05 ? b.aim : b.wanted;
    if (glm::length(aim) < 1e-6) return;
    const double off = std::remainder(std::atan2(aim.y, aim.x) - b.heading, 2 * kPi), most = radians(b.who.turnRate) * dt_;
    b.heading += std::clamp(off, -most, most);
  }

  void takeOff(Body& b) const {
    const Vec3 &from = b.way.points[b.way.next], &to = b.way.points[b.way.next + 1];
    for (const nav::Link& link : mesh_.links) {
      const bool forward = glm::distance(link.from, from) < 1e-6 && glm::distance(link.to, to) < 1e-6;
      const bool back = !link.oneWay && glm::distance(link.to, from) < 1e-6 && glm::distance(link.from, to) < 1e-6;
      if (!forward && !back) continue;
      b.flight = nav::flight(link.kind, from, to);
      b.landing = {forward ? link.toFace : link.fromFace, to};
      b.flight.front() = b.place.position;  // from where it stands
      b.flown = 0;
      b.state = State::link;
      return;
    }
  }

  void fly(Body& b) {
    const Vec3 before = b.place.position;
    b.flown += b.who.speed * kLinkSpeed * dt_;
    double left = b.flown;
    std::size_t leg = 0;
    while (leg + 1 < b.flight.size() && left > glm::distance(b.flight[leg], b.flight[leg + 1]))
      left -= glm::distance(b.flight[leg], b.flight[leg + 1]), ++leg;
    const bool landed = leg + 1 >= b.flight.size();
    b.place.position =
        landed ? b.landing.position : glm::mix(b.flight[leg], b.flight[leg + 1], left / glm::distance(b.flight[leg], b.flight[leg + 1]));
    b.velocity = (plan(b.place.position) - plan(before)) / dt_;
    b.wanted = b.velocity;
    b.state = State::link;
    if (glm::length(b.velocity) > 0.05) b.heading = std::atan2(b.velocity.y, b.velocity.x);
    if (!landed) return;
    b.place = b.landing;
    b.flight.clear();
    b.way.next += b.way.next + 2 < b.way.points.size() ? 2u : 1u;
    b.standing = 0;
    b.state = State::moving;
  }

  const route::Field& field_;
  const nav::NavMesh& mesh_;
  const SceneOptions options_;
  Following following_;
  double dt_, now_ = 0;
  std::size_t steps_ = 0;
  std::vector<Body> bodies_;
  std::vector<Vec2> chosen_;
  // At the begin of the step: what everybody decides from.
  std::vector<BodyState> shown_;
  std::vector<double> waited_;  // s without getting on
  std::vector<double> left_;    // m to the next corner
  std::vector<Vec2> aims_, wants_;
  std::vector<std::optional<Narrow>> narrows_, seenNarrows_;
  PlanGrid grid_;
};

const char* stateName(State state) {
  constexpr const char* kNames[] = {"moving", "arrived", "stuck", "link", "waiting", "off-mesh"};
  return kNames[static_cast<std::size_t>(state)];
}

Result<Crowd> Crowd::make(const route::Field& field, std::vector<Walker> walkers, const SceneOptions& options) {
  if (auto problem = check(walkers, options)) return *problem;
  return Crowd(std::make_unique<Simulation>(field, walkers, options));
}

Crowd::Crowd(std::unique_ptr<Simulation> simulation) : simulation_(std::move(simulation)) {}
Crowd::Crowd(Crowd&&) noexcept = default;
Crowd& Crowd::operator=(Crowd&&) noexcept = default;
Crowd::~Crowd() = default;

bool Crowd::step(Job& job) { return simulation_->step(job); }
double Crowd::now() const { return simulation_->now(); }
std::size_t Crowd::size() const { return simulation_->size(); }
const Walker& Crowd::walker(std::size_t body) const { return simulation_->walker(body); }
std::span<const BodyState> Crowd::bodies() const { return simulation_->shown(); }

}  // namespace dune::crowd
