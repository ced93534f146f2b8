// Typical size: 10 to 10 000 bodies, 30 steps a second. The hot parts are finding neighbours (a uniform grid rebuilt each step), the
// half-planes, and the border around a body, which is found by walking over faces.
//
// A body on its path needs no walls to keep to: its step slides along the border and cannot pass it. Walls are told to the avoidance only,
// which would otherwise choose velocities into them.

#include "core/crowd/crowd.h"

#include <algorithm>

#include "core/base/parallel.h"
#include "core/base/plan_geometry.h"
#include "core/crowd/following.h"
#include "core/crowd/keeping_apart.h"

namespace dune::crowd {

namespace {

using nav::kNoFace;

constexpr std::size_t kWorthThreads = 128;  // bodies
constexpr double kStuckAfter = 2.0;         // s of standing before the state says so
constexpr double kTurnBeforeGo = 100;       // degrees off the wanted heading at which a body slows down to turn
constexpr double kSideStep = 0.35;          // of the top speed, at which a body may go any way whatever its heading
constexpr double kLinkSpeed = 0.8;          // of walking speed, on links
constexpr double kStoreyApart = 0.75;       // of a body's height: farther apart in height, bodies do not meet
constexpr double kPacked = 1.3;             // radii of the densest packing around a taken goal
constexpr double kTouching = 0.12;          // m between bodies that stand together
constexpr double kPatience = 20;            // s that a body waits for others before a narrow place

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
    chosen_.resize(bodies_.size()), narrows_.resize(bodies_.size());
    picture_.storeyApart = kStoreyApart * mesh_.agent.height;
    apart_.emplace(field_, options_.avoidance, picture_, bodies_, dt_);
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
  const std::vector<BodyState>& shown() const { return picture_.shown; }

 private:
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
    picture_.resize(bodies_.size());
    for (std::size_t i = 0; i < bodies_.size(); ++i) {
      const Body& b = bodies_[i];
      picture_.shown[i] = {b.place.position, lift(b.velocity, 0), lift(b.wanted, 0), b.state, b.place.face};
      picture_.waited[i] = b.standing;
      picture_.aims[i] = b.aim;
      picture_.narrows[i] = narrows_[i];
      const bool goes = !b.done && b.way.next < b.way.points.size();
      picture_.wants[i] = goes ? plan(b.way.points[b.way.next]) - plan(b.place.position) : Vec2{0};
      picture_.left[i] = b.way.next < b.way.points.size() ? glm::distance(b.place.position, b.way.points[b.way.next]) : 0;
    }
  }

  void index() {
    std::vector<Box2> boxes(bodies_.size());
    for (std::size_t i = 0; i < bodies_.size(); ++i) boxes[i].add(plan(picture_.shown[i].at));
    picture_.grid = PlanGrid(boxes, 2.0);
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
    const std::vector<Seen>& near = apart_->around(i);
    b.aim = apart_->avoiding(i, near);
    return apart_->withoutContact(i, near, limited(b, b.aim));
  }

  /// What it wants, as far as it is its turn at a narrow place.
  Vec2 takingTurns(std::size_t i) {
    constexpr std::size_t kEvery = 8;   // steps between looks for narrow places
    constexpr double kSeesOthers = 12;  // m, along lanes
    Body& b = bodies_[i];
    if ((steps_ + i) % kEvery == 0) narrows_[i] = b.wanted == Vec2{0} ? std::nullopt : narrowAhead(mesh_, b, &field_.rules());
    if (!narrows_[i]) return b.wanted;
    thread_local std::vector<Passer> others;
    others.clear();
    picture_.eachNeighbour(i, kSeesOthers, [&](const Seen& o) {
      const Vec2 aim = picture_.wants[o.number];
      const double length = glm::length(aim);
      others.push_back({o.at, o.velocity, length > 0.05 ? aim / length : Vec2{0}, bodies_[o.number].who.id, picture_.narrows[o.number]});
    });
    if (others.empty()) return b.wanted;
    const bool patient = b.inTurn < kPatience * (1 + ownNumber(b.who.id));
    const Turn turn = inTurn(mesh_, &field_.rules(), b, *narrows_[i], others, patient);
    b.inTurn = turn.waits ? b.inTurn + dt_ : std::max(0.0, b.inTurn - dt_);
    return turn.wanted;
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
    picture_.eachNeighbour(self, distance + b.who.radius, [&](const Seen& other) {
      const double radius = bodies_[other.number].who.radius, away = glm::distance(other.at, goal);
      const bool there = picture_.shown[other.number].state == State::arrived;
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
    for (std::size_t i = 0; i < picture_.shown.size(); ++i)
      if (i != self && picture_.shown[i].state == State::link &&
          glm::distance(picture_.shown[i].at, foot) < b.who.radius + bodies_[i].who.radius)
        return false;
    return true;
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
    if (const double part = apart_->shortened(self, step); part < 1) b.place = nav::stepBy(mesh_, from, step * part, &field_.rules());
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
  Picture picture_;
  std::vector<std::optional<Narrow>> narrows_;  // each body's own, before others see it
  std::optional<KeepingApart> apart_;
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
