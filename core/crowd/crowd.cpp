// Typical size: 10 to 10 000 bodies, 30 steps a second. The hot parts are finding neighbours (a uniform grid rebuilt each step), the
// way to steer, and the border around a body, which is found by walking over faces.
//
// A body on its path needs no walls to keep to: its step slides along the border and cannot pass it. Walls are told to the avoidance only,
// which would otherwise choose velocities into them.

#include "core/crowd/crowd.h"

#include <algorithm>
#include <map>

#include "core/base/parallel.h"
#include "core/base/plan_geometry.h"
#include "core/crowd/arrival.h"
#include "core/crowd/contacts.h"
#include "core/crowd/flight.h"
#include "core/crowd/floor.h"
#include "core/crowd/jams.h"
#include "core/crowd/motion.h"
#include "core/crowd/progress.h"
#include "core/crowd/standing_obstacles.h"
#include "core/crowd/taking_turns.h"

namespace dune::crowd {

namespace {

constexpr std::size_t kWorthThreads = 128;  // bodies
constexpr double kStuckAfter = 2.0;         // s of standing before the state says so
constexpr double kStoreyApart = 0.75;       // of a body's height: farther apart in height, bodies do not meet
constexpr double kPresses = 3;              // s without getting on after which those at the same goal make room
constexpr double kJustBefore = 1.5;         // m before a passage from which it still lets others come out
constexpr double kComesBack = 3;            // m that one who was at its goal lets itself be pushed from it

std::optional<Problem> check(const std::vector<Walker>& walkers, const SceneOptions& options, std::size_t meshes) {
  auto bad = [](const std::string& what, const std::string& where) {
    return Problem{ProblemCode::usage, what, where, "positive, finite numbers."};
  };
  if (!(options.rate > 0 && options.rate <= 1000)) return bad("The rate must be between 0 and 1000 steps a second.", "");
  for (const SteeringSettings& s : options.steerings)
    if (auto problem = checkSteering(s)) return problem;
  for (const MovingObstacle& o : options.obstacles)
    if (auto problem = checkObstacle(o)) return problem;
  std::vector<int> ids;
  for (const Walker& w : walkers) ids.push_back(w.id);
  std::sort(ids.begin(), ids.end());
  for (const Walker& w : walkers) {
    bool sane = isFinite(w.start) && isFinite(w.goal) && w.radius > 0 && w.speed > 0 && w.acceleration > 0 && w.turnRate > 0 &&
                w.passWithin >= 0 && w.arriveWithin >= 0 && w.mesh < meshes && w.steering < options.steerings.size() &&
                std::isfinite(w.radius + w.speed + w.acceleration + w.startTime + w.turnRate + w.passWithin + w.arriveWithin);
    for (const Vec3& p : w.round) sane &= isFinite(p);
    if (w.chase)
      sane &= w.chase->every >= 0 && w.chase->moved >= 0 && w.chase->keep >= 0 && w.chase->every + w.chase->moved + w.chase->keep < 1e9;
    if (!sane) return bad("An agent has a number that makes no sense.", "agent " + std::to_string(w.id));
    if (w.chase && (w.chase->agent == w.id || !std::ranges::binary_search(ids, w.chase->agent)))
      return Problem{ProblemCode::unusable, "An agent follows one that is not there: agent " + std::to_string(w.chase->agent) + ".",
                     "agent " + std::to_string(w.id), "the id of another agent."};
  }
  if (const auto twice = std::adjacent_find(ids.begin(), ids.end()); twice != ids.end())
    return Problem{ProblemCode::unusable, "Two agents have the same id.", "agent " + std::to_string(*twice),
                   "giving every agent an id of its own."};
  return std::nullopt;
}

}  // namespace

class Crowd::Simulation {
 public:
  Simulation(std::span<const route::Field* const> fields, const std::vector<Walker>& walkers, const SceneOptions& options)
      : options_(options), dt_(1 / options.rate) {
    for (const route::Field* field : fields) floors_.emplace_back(*field);
    for (const Walker& w : walkers) {
      Body& body = bodies_.emplace_back();
      body.who = w, body.goal = w.goal;
      body.place = floors_[w.mesh].field().locator().nearest(w.start, 2);
      if (!body.place.valid()) body.state = State::offMesh, body.place.position = w.start;
      const Vec2 ahead = plan(w.goal) - plan(w.start);
      body.heading = glm::length(ahead) > 0 ? std::atan2(ahead.y, ahead.x) : 0;
    }
    std::sort(bodies_.begin(), bodies_.end(), [](const Body& a, const Body& b) { return a.who.id < b.who.id; });
    for (std::size_t i = 0; i < bodies_.size(); ++i) byId_[bodies_[i].who.id] = i;
    for (Body& b : bodies_)
      if (b.who.chase) b.goal = bodies_[byId_.at(b.who.chase->agent)].place.position;
    setUp();
    prepare();
  }
  /// A copy goes on from the same step, and comes to the same.
  Simulation(const Simulation& other)
      : options_(other.options_),
        dt_(other.dt_),
        steps_(other.steps_),
        floors_(other.floors_),
        bodies_(other.bodies_),
        byId_(other.byId_),
        standing_(other.standing_),
        jams_(other.jams_),
        narrows_(other.narrows_) {
    setUp();
    prepare();
  }
  Simulation& operator=(const Simulation&) = delete;

  bool step(Job& job) {
    const bool whole = eachBody(job, [&](std::size_t i) { chosen_[i] = decide(i, nullptr); });
    if (!whole) return false;
    eachBody(job, [&](std::size_t i) { move(i, chosen_[i]); });
    ++steps_;
    prepare();
    jams_.update(now(), floors_, bodies_, picture_, narrows_);
    return true;
  }
  double now() const { return static_cast<double>(steps_) * dt_; }
  std::size_t size() const { return bodies_.size(); }
  const Walker& walker(std::size_t body) const { return bodies_[body].who; }
  const std::vector<BodyState>& shown() const { return picture_.shown; }
  /// Only of a copy: it decides, and so goes half a step on.
  Insight insight(std::size_t body) {
    Insight insight;
    insight.taken = decide(body, &insight);
    insight.wanted = bodies_[body].wanted, insight.decided = bodies_[body].aim;
    return insight;
  }

 private:
  void setUp() {
    chosen_.resize(bodies_.size()), narrows_.resize(bodies_.size());
    picture_.bodyHeight = 0, picture_.storeyApart = INFINITY;
    for (const Floor& f : floors_) {
      picture_.bodyHeight = std::max(picture_.bodyHeight, f.mesh().agent.height);
      picture_.storeyApart = std::min(picture_.storeyApart, kStoreyApart * f.mesh().agent.height);
    }
    for (const Body& b : bodies_) picture_.largest = std::max(picture_.largest, b.who.radius);
    contacts_.emplace(picture_, bodies_, dt_);
    turns_.emplace(picture_, bodies_, narrows_, dt_);
  }

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

  /// What everybody decides from in the next step.
  void prepare() {
    if (!options_.obstacles.empty()) standing_.update(options_.obstacles, now(), floors_, bodies_, picture_.obstacles);
    beginBodies();
    show();
    picture_.index();
  }

  /// Who is due, once nobody stands on its start. At the very begin all are where they were put.
  void beginBodies() {
    for (std::size_t i = 0; i < bodies_.size(); ++i) {
      Body& b = bodies_[i];
      if (b.begun || b.who.startTime > now()) continue;
      const auto inTheWay = [&](const Body& o) {
        return o.begun && !o.onLink() && glm::distance(o.place.position, b.place.position) < o.who.radius + b.who.radius;
      };
      b.begun = steps_ == 0 || std::ranges::none_of(bodies_, inTheWay);
      if (b.begun && b.state == State::waiting) b.state = State::moving;
    }
  }

  void show() {
    picture_.resize(bodies_.size());
    for (std::size_t i = 0; i < bodies_.size(); ++i) {
      Body& b = bodies_[i];
      const nav::FaceId face = floors_[b.who.mesh].wholeFace(b.place.face);
      picture_.shown[i] = {b.place.position, lift(b.velocity, 0), lift(b.wanted, 0), b.state, face, offPath(b)};
      picture_.places[i] = b.place;
      picture_.goals[i] = b.goal;
      picture_.beenThere[i] = b.beenThere;
      picture_.settled[i] = isSettled(b);
      picture_.presses[i] = !b.done && b.progress.stalled > kPresses && !(b.passage && b.passage->along(plan(b.goal)));
      picture_.there[i] = b.begun;
      picture_.waited[i] = b.standing;
      picture_.inTurn[i] = b.inTurn;
      picture_.priority[i] = b.who.priority;
      picture_.aims[i] = b.aim;
      picture_.narrows[i] = narrows_[i];
      const bool goes = !b.done && b.way.next < b.way.points.size();
      picture_.wants[i] = goes ? plan(b.way.points[b.way.next]) - plan(b.place.position) : Vec2{0};
      picture_.left[i] = b.way.next < b.way.points.size() ? glm::distance(b.place.position, b.way.points[b.way.next]) : 0;
    }
  }

  /// The velocity for the next step, from everybody's state at its begin.
  Vec2 decide(std::size_t i, Insight* insight) {
    Body& b = bodies_[i];
    if (b.state == State::offMesh || b.onLink()) return b.velocity;
    if (!b.begun) {
      b.state = State::waiting;
      return Vec2{0};
    }
    const SteeringSettings& settings = options_.steerings[b.who.steering];
    const SteeringModel& model = modelFor(settings.model);
    Floor& floor = floors_[b.who.mesh];
    b.wanted = wish(i, floor);
    countProgress(b, dt_);
    if (model.avoids()) {
      b.wanted = turns_->wanted(i, steps_, floor.mesh(), floor.rulesFor(b));
      if (!b.done)
        if (const auto wanted = wantedAtTakenGoal(picture_, bodies_, i, floor)) b.done = true, b.wanted = *wanted;
    }
    b.state = stateOf(b);
    b.beenThere = isSettled(b) || (b.beenThere && comesBack(b));
    if (floor.following().atFoot(b)) {
      if (b.way.borderAt(b.way.next) || footIsFree(picture_, bodies_, i)) takeOff(floor.field(), b);
      return Vec2{0};
    }
    const std::optional<Vec2> led = model.avoids() ? followLead(i) : std::nullopt;
    const std::vector<Seen>& near = contacts_->around(i, settings);
    const auto heeded = std::span(near).first(std::min(near.size(), static_cast<std::size_t>(settings.heeded)));
    const Situation situation{i, b, bodies_, picture_, floor.mesh(), floor.rulesFor(b), settings, heeded, dt_};
    const bool holds = b.before && !b.done && (steps_ + i) % static_cast<std::size_t>(settings.every) != 0 && !insight;
    b.aim = led ? b.wanted : holds ? *b.before : model.steer(situation, b.memory, insight);
    b.before = b.aim;
    if (insight) insight->ledTo = led;
    if (insight && !led)
      for (const Seen& other : heeded) insight->heeded.push_back(other.number);
    const Vec2 velocity = withinLimits(b, b.aim, dt_);
    return model.avoids() ? contacts_->withoutContact(situation, near, velocity) : velocity;
  }

  /// What its way asks of it.
  Vec2 wish(std::size_t i, Floor& floor) {
    Body& b = bodies_[i];
    if (b.who.chase) {
      const std::size_t quarry = byId_.at(b.who.chase->agent);
      const bool sameGround = bodies_[quarry].who.mesh == b.who.mesh && picture_.shown[quarry].state != State::link;
      const nav::Place place = sameGround ? picture_.places[quarry] : floor.field().locator().nearest(picture_.shown[quarry].at, 2);
      if (place.valid()) return floor.following().wantedAfter(b, place, now(), floor.rulesFor(b));
    }
    const Vec2 wanted = floor.following().wanted(b, now(), floor.rulesFor(b));
    if (!b.done || b.who.round.empty()) return wanted;
    b.roundAt = (b.roundAt + 1) % (b.who.round.size() + 1);
    b.goal = b.roundAt == 0 ? b.who.goal : b.who.round[b.roundAt - 1];
    b.beenThere = false;
    Following::askAnew(b);
    return floor.following().wanted(b, now(), floor.rulesFor(b));
  }

  /// Where it is led out of a jam; then it wants nothing else. Who comes near one waits.
  std::optional<Vec2> followLead(std::size_t i) {
    constexpr double kSoon = 0.2;  // s
    Body& b = bodies_[i];
    const auto to = jams_.leadTo(i);
    if (!to && jams_.waitsOutside(i, b)) b.wanted = Vec2{0};
    if (!to) return std::nullopt;
    const Vec2 way = *to - plan(b.place.position);
    const double far = glm::length(way);
    b.wanted = far > 1e-9 ? way / far * std::min(b.who.speed, far / kSoon) : Vec2{0};
    b.progress = {};
    return to;
  }

  /// Whether one that was at its goal still lets others push it on: where one at a time goes through, until it is out.
  static bool comesBack(const Body& b) {
    const Vec3& end = b.way.points.empty() ? b.goal : b.way.points.back();
    return glm::distance(b.place.position, end) < kComesBack ||
           (b.passage && glm::distance(b.passage->middle.front(), plan(b.place.position)) < kJustBefore);
  }
  /// As near to its goal as it gets.
  static bool isSettled(const Body& b) { return b.state == State::arrived || (b.done && b.state == State::stuck); }
  static State stateOf(const Body& b) {
    if (b.done && b.who.chase && !b.seesQuarry) return State::waiting;  // where it saw it last
    if (b.done) return b.way.status == route::PathStatus::complete ? State::arrived : State::stuck;
    return b.standing > kStuckAfter ? State::stuck : State::moving;
  }

  void move(std::size_t self, const Vec2& velocity) {
    Body& b = bodies_[self];
    if (b.state == State::offMesh) return;
    if (b.onLink()) return fly(floors_[b.who.mesh].mesh(), b, dt_);
    turnTowardsAim(b, dt_);
    if (!b.begun) return;
    const Floor& floor = floors_[b.who.mesh];
    const Vec2 here = plan(b.place.position);
    const nav::Place from = b.place;
    b.place = nav::stepBy(floor.mesh(), from, velocity * dt_, &floor.rules());
    const Vec2 step = plan(b.place.position) - here;
    const bool avoids = modelFor(options_.steerings[b.who.steering].model).avoids();
    if (const double part = avoids ? contacts_->shortened(self, step) : 1; part < 1)
      b.place = nav::stepBy(floor.mesh(), from, step * part, &floor.rules());
    b.velocity = (plan(b.place.position) - here) / dt_;
    // Standing is not getting on, however much it moves.
    const double wanted = glm::length(b.wanted);
    const bool getsOn = wanted < 0.05 || glm::dot(b.velocity, b.wanted) > 0.1 * wanted * std::min(wanted, 0.5);
    b.standing = getsOn ? std::max(0.0, b.standing - 4 * dt_) : b.standing + dt_;
  }

  const SceneOptions options_;
  double dt_;
  std::size_t steps_ = 0;
  std::vector<Floor> floors_;
  std::vector<Body> bodies_;  // by ascending id
  std::map<int, std::size_t> byId_;
  StandingObstacles standing_;
  Jams jams_;
  std::vector<Vec2> chosen_;
  // At the begin of the step: what everybody decides from.
  Picture picture_;
  std::vector<std::optional<Narrow>> narrows_;  // each body's own, before others see it
  std::optional<Contacts> contacts_;
  std::optional<TakingTurns> turns_;
};

const char* stateName(State state) {
  constexpr const char* kNames[] = {"moving", "arrived", "stuck", "link", "waiting", "off-mesh"};
  return kNames[static_cast<std::size_t>(state)];
}

Result<Crowd> Crowd::make(const route::Field& field, std::vector<Walker> walkers, const SceneOptions& options) {
  const route::Field* fields[] = {&field};
  return make(fields, std::move(walkers), options);
}

Result<Crowd> Crowd::make(std::span<const route::Field* const> fields, std::vector<Walker> walkers, const SceneOptions& options) {
  if (auto problem = check(walkers, options, fields.size())) return *problem;
  return Crowd(std::make_unique<Simulation>(fields, walkers, options));
}

Crowd::Crowd(std::unique_ptr<Simulation> simulation) : simulation_(std::move(simulation)) {}
Crowd::Crowd(Crowd&&) noexcept = default;
Crowd& Crowd::operator=(Crowd&&) noexcept = default;
Crowd::~Crowd() = default;

Crowd Crowd::copy() const { return Crowd(std::make_unique<Simulation>(*simulation_)); }
Insight Crowd::insight(std::size_t body) const { return Simulation(*simulation_).insight(body); }
bool Crowd::step(Job& job) { return simulation_->step(job); }
double Crowd::now() const { return simulation_->now(); }
std::size_t Crowd::size() const { return simulation_->size(); }
const Walker& Crowd::walker(std::size_t body) const { return simulation_->walker(body); }
std::span<const BodyState> Crowd::bodies() const { return simulation_->shown(); }

}  // namespace dune::crowd
