// Typical size: 10 to 10 000 bodies, 30 steps a second. The hot parts are finding neighbours (a uniform grid rebuilt each
// step), the half-planes and the wall segments nearby. Following is kept simple: aim at the next corner of the path; a corner
// is passed as soon as the one after it can be walked to in a straight line.

#include "core/crowd/crowd.h"

#include <algorithm>
#include <memory>
#include <mutex>

#include "core/base/parallel.h"
#include "core/base/plan_geometry.h"
#include "core/base/plan_grid.h"
#include "core/crowd/half_planes.h"

namespace dune::crowd {

namespace {

using nav::FaceId;
using nav::kNoFace;
using nav::Place;

constexpr double kAskAgain = 1.0;      // s between new path queries of a body that is off its path
constexpr double kAskSeldom = 8.0;     // s between those of a body that has stood for long: its way will hardly be another
constexpr double kSightSlack = 0.02;   // m before a corner at which sight may end and still count as reaching it
constexpr double kStuckSpeed = 0.05;   // m/s: slower than this counts as standing
constexpr double kStuckAfter = 2.0;    // s of standing before the state says so
constexpr double kTurnBeforeGo = 100;  // degrees off the wanted heading at which a body slows down to turn
constexpr double kLinkSpeed = 0.8;     // of walking speed, on links
constexpr double kCarefully = 0.05;    // m: who has to come that near to a waypoint never loses its way past it
constexpr double kSettle = 0.35;       // s in which a body closes the last distance to its goal: no overshoot, no trembling
constexpr double kCrowdedGoal = 2.2;   // radii: so near to the goal behind arrived bodies counts as arrived too

struct Body {
  Walker who;
  Place place;
  Vec2 velocity{0}, wanted{0};
  double heading = 0;
  State state = State::waiting;
  std::vector<Vec3> path;
  std::vector<std::uint32_t> linkAt;  // points at which a link begins
  std::size_t next = 1;
  double askedAt = -1e9, askAfter = kAskAgain, standing = 0;
  bool onLink = false;
  bool careful = false;  // was lost or jammed: goes up to the next waypoint before it takes another
  double linkDone = 0;
};

/// Border edges of the mesh near a place.
class Walls {
 public:
  explicit Walls(const nav::NavMesh& mesh) {
    std::vector<Box2> boxes;
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
      for (std::size_t i = 0, n = mesh.cornerCount(FaceId{f}); i < n; ++i) {
        if (mesh.acrossOf(FaceId{f})[i] != kNoFace) continue;
        const Vec3 &a = mesh.cornerAt(FaceId{f}, i), &b = mesh.cornerAt(FaceId{f}, (i + 1) % n);
        edges_.push_back({plan(a), plan(b), (a.y + b.y) / 2});
        boxes.emplace_back().add(plan(a));
        boxes.back().add(plan(b));
      }
    grid_ = PlanGrid(boxes, 2.0);
  }
  struct Edge {
    Vec2 a, b;  // ground on the left
    double y;
  };
  template <class Visit>
  void near(const Vec3& p, double reach, Visit&& visit) const {
    Box2 box;
    box.add(plan(p));
    thread_local std::vector<std::uint32_t> found;
    grid_.collect(box.grown(reach), found);
    for (const std::uint32_t i : found)
      if (std::abs(edges_[i].y - p.y) < 1.5) visit(edges_[i]);
  }

 private:
  std::vector<Edge> edges_;
  PlanGrid grid_;
};

std::optional<Problem> check(const std::vector<Walker>& walkers, const SceneOptions& options);

}  // namespace

class Crowd::Simulation {
 public:
  Simulation(const route::Field& field, const std::vector<Walker>& walkers, const SceneOptions& options)
      : field_(field), mesh_(field.mesh()), options_(options), walls_(mesh_), dt_(1 / options.rate) {
    for (const Walker& w : walkers) {
      Body body;
      body.who = w;
      body.place = field.locator().nearest(w.start, 2);
      if (!body.place.valid()) body.state = State::offMesh, body.place.position = w.start;
      const Vec2 ahead = plan(w.goal) - plan(w.start);
      body.heading = glm::length(ahead) > 0 ? std::atan2(ahead.y, ahead.x) : 0;
      bodies_.push_back(std::move(body));
    }
    std::sort(bodies_.begin(), bodies_.end(), [](const Body& a, const Body& b) { return a.who.id < b.who.id; });
    chosen_.resize(bodies_.size());
    show();
  }

  bool step(Job& job) {
    now_ = static_cast<double>(steps_) * dt_;
    index();
    const bool whole = eachBody(job, [&](std::size_t i) { chosen_[i] = decide(bodies_[i]); });
    if (!whole) return false;
    eachBody(job, [&](std::size_t i) { move(bodies_[i], chosen_[i]); });
    ++steps_;
    show();
    return true;
  }
  double now() const { return static_cast<double>(steps_) * dt_; }
  std::size_t size() const { return bodies_.size(); }
  const Walker& walker(std::size_t body) const { return bodies_[body].who; }
  const std::vector<BodyState>& shown() const { return shown_; }

 private:
  /// Small crowds are not worth the threads.
  bool eachBody(Job& job, const std::function<void(std::size_t)>& body) {
    if (bodies_.size() >= 128) {
      Job part(job, Job::Quiet{});
      parallelFor(part, bodies_.size(), body);
    } else {
      for (std::size_t i = 0; i < bodies_.size(); ++i) body(i);
    }
    return !job.cancelled();
  }

  void show() {
    shown_.resize(bodies_.size());
    for (std::size_t i = 0; i < bodies_.size(); ++i) {
      const Body& b = bodies_[i];
      shown_[i] = {b.place.position, lift(b.velocity, 0), lift(b.wanted, 0), b.state, b.place.face};
    }
  }

  void index() {
    std::vector<Box2> boxes(bodies_.size());
    for (std::size_t i = 0; i < bodies_.size(); ++i) boxes[i].add(plan(bodies_[i].place.position));
    grid_ = PlanGrid(boxes, 2.0);
  }

  bool walking(const Body& b) const { return b.place.valid() && !b.onLink && b.who.startTime <= now_; }

  /// The velocity for the next step, from everybody's state at its begin.
  Vec2 decide(Body& b) {
    if (b.state == State::offMesh || b.onLink) return b.velocity;
    if (b.who.startTime > now_) {
      b.state = State::waiting;
      return Vec2{0};
    }
    b.wanted = wantedVelocity(b);
    return limited(b, avoiding(b));
  }

  /// Searches keep their memory, so they are handed round.
  std::unique_ptr<route::Search> takeSearch() {
    const std::scoped_lock lock(searchMutex_);
    if (searches_.empty()) return std::make_unique<route::Search>(field_);
    auto search = std::move(searches_.back());
    searches_.pop_back();
    return search;
  }

  void ask(Body& b) {
    std::unique_ptr<route::Search> search = takeSearch();
    const route::PathAnswer answer = route::findPath(field_, *search, b.place.position, b.who.goal, {2, false, false});
    const std::scoped_lock lock(searchMutex_);
    searches_.push_back(std::move(search));
    b.path = answer.points;
    b.linkAt.clear();
    for (const route::LinkUse& use : answer.links) b.linkAt.push_back(use.enter);
    b.next = 1;
    b.askedAt = now_;
  }

  bool linkFrom(const Body& b, std::size_t point) const { return std::ranges::count(b.linkAt, static_cast<std::uint32_t>(point)) > 0; }

  Vec2 wantedVelocity(Body& b) {
    if (b.path.empty() && now_ - b.askedAt > kAskAgain) ask(b);
    if (b.path.size() < 2) return settle(b, b.path.empty() ? b.place.position : b.path.back());
    const Vec2 here = plan(b.place.position);
    bool reached = false;
    // Past a corner as soon as the next one is in a straight line; a link's foot has to be reached.
    while (b.next + 1 < b.path.size() && !linkFrom(b, b.next)) {
      nav::sightEnd(mesh_, b.place, plan(b.path[b.next + 1]), &reached);
      const bool near =
          glm::distance(here, plan(b.path[b.next])) <= (b.careful ? std::min(kCarefully, b.who.passWithin) : b.who.passWithin);
      if (!reached && !near) break;
      ++b.next, b.careful = false;
    }
    if (linkFrom(b, b.next) && b.next + 1 < b.path.size() &&
        glm::distance(here, plan(b.path[b.next])) < std::max(0.1, b.who.radius * 0.3)) {
      b.onLink = true;
      b.linkDone = 0;
      return Vec2{0};
    }
    const Vec3 seen = nav::sightEnd(mesh_, b.place, plan(b.path[b.next]), &reached);
    const Vec2 to = plan(b.path[b.next]) - here;
    // Pushed off the way: the next corner is out of sight. Corners lie on the border, where sight may end a hair early.
    const bool lost = !reached && glm::distance(plan(seen), plan(b.path[b.next])) > kSightSlack;
    const bool jammed = b.standing > kStuckAfter / 2;
    if (!jammed) b.askAfter = kAskAgain;
    if ((lost || jammed) && now_ - b.askedAt > b.askAfter) {
      ask(b);
      b.careful = true;
      b.askAfter = std::min(2 * b.askAfter, kAskSeldom);
    }
    if (b.next + 1 >= b.path.size()) return settle(b, b.path.back());
    const double length = glm::length(to);
    return length > 1e-9 ? to / length * b.who.speed : Vec2{0};
  }

  /// Straight to a last place, slowing down so that it is met without overshooting.
  Vec2 settle(Body& b, const Vec3& last) {
    const Vec2 to = plan(last) - plan(b.place.position);
    const double distance = glm::length(to);
    const bool isGoal = glm::distance(plan(last), plan(b.who.goal)) < 2;
    if (isGoal &&
        (distance <= b.who.arriveWithin || (b.state == State::arrived && distance < 2 * b.who.arriveWithin) || crowded(b, distance))) {
      b.state = State::arrived;
      return Vec2{0};
    }
    const double braking = std::sqrt(2 * b.who.acceleration * 0.5 * distance);
    return distance > 1e-9 ? to / distance * std::min({b.who.speed, distance / kSettle, braking}) : Vec2{0};
  }

  /// Whether the goal is taken by bodies that have arrived, and this one stands right behind them.
  bool crowded(const Body& b, double distance) const {
    if (glm::length(b.velocity) > 0.5 * b.who.speed) return false;
    bool behind = false;
    eachNeighbour(b, 2 * b.who.radius + 0.5, [&](const Seen& other) {
      behind |= other.state == State::arrived && glm::distance(plan(other.who->goal), plan(b.who.goal)) < kCrowdedGoal * b.who.radius &&
                glm::distance(other.at, plan(b.who.goal)) < distance;
    });
    return behind;
  }

  /// Another body as it was at the begin of the step.
  struct Seen {
    const Walker* who;
    Vec2 at, velocity;
    State state;
  };

  template <class Visit>
  void eachNeighbour(const Body& b, double reach, Visit&& visit) const {
    Box2 box;
    box.add(plan(b.place.position));
    thread_local std::vector<std::uint32_t> found;
    grid_.collect(box.grown(reach), found);
    for (const std::uint32_t i : found) {
      const BodyState& other = shown_[i];
      if (&bodies_[i] == &b || other.face == kNoFace || other.state == State::link) continue;
      if (std::abs(other.at.y - b.place.position.y) > 1.5) continue;
      visit(Seen{&bodies_[i].who, plan(other.at), plan(other.velocity), other.state});
    }
  }

  Vec2 avoiding(const Body& b) const {
    std::vector<HalfPlane> planes;
    const Vec2 here = plan(b.place.position);
    const double reach = b.who.speed * options_.avoidance.wallAhead + 0.05;
    walls_.near(b.place.position, reach, [&](const Walls::Edge& e) {
      // The mesh already keeps the radius: the centre may come up to its border, and no further.
      const Vec2 at = nearestOnSegment(e.a, e.b, here), away = here - at;
      const double distance = glm::length(away);
      if (distance > reach || cross(e.b - e.a, here - e.a) < -1e-6) return;
      const Vec2 inward = distance > 1e-6 ? away / distance : leftOf(e.b - e.a) / glm::distance(e.a, e.b);
      planes.push_back({inward * (-distance / options_.avoidance.wallAhead), Vec2{inward.y, -inward.x}});
    });
    const std::size_t hard = planes.size();
    std::vector<std::pair<double, Seen>> near;
    eachNeighbour(b, options_.avoidance.neighbourRange,
                  [&](const Seen& other) { near.emplace_back(glm::distance(other.at, here), other); });
    std::stable_sort(near.begin(), near.end(), [](const auto& x, const auto& y) { return x.first < y.first; });
    if (near.size() > static_cast<std::size_t>(options_.avoidance.mostNeighbours))
      near.erase(near.begin() + options_.avoidance.mostNeighbours, near.end());
    for (const auto& [distance, other] : near) planes.push_back(against(b, other));
    return nearestAllowed(planes, hard, b.wanted, b.who.speed);
  }

  /// The half-plane of velocities with which two bodies do not touch within the time to look ahead, half the effort each
  /// (van den Berg et al. 2011, section 4). Bodies that have arrived do less, so that they are walked around.
  HalfPlane against(const Body& b, const Seen& other) const {
    const Vec2 apart = other.at - plan(b.place.position), relative = b.velocity - other.velocity;
    const double radius = b.who.radius + other.who->radius + options_.avoidance.spacing, distance2 = glm::dot(apart, apart);
    const double share = other.state == State::arrived || other.state == State::waiting ? 0.9 : b.state == State::arrived ? 0.1 : 0.5;
    Vec2 change, direction;
    if (distance2 > radius * radius) {
      const Vec2 w = relative - apart / options_.avoidance.lookAhead;
      const double w2 = glm::dot(w, w), along = glm::dot(w, apart);
      if (along < 0 && along * along > radius * radius * w2) {
        const double length = std::sqrt(w2);  // the round front of the cone
        const Vec2 unit = w / length;
        direction = {unit.y, -unit.x};
        change = unit * (radius / options_.avoidance.lookAhead - length);
      } else {
        const double leg = std::sqrt(distance2 - radius * radius);
        if (cross(apart, w) > 0)
          direction = Vec2{apart.x * leg - apart.y * radius, apart.x * radius + apart.y * leg} / distance2;
        else
          direction = -Vec2{apart.x * leg + apart.y * radius, -apart.x * radius + apart.y * leg} / distance2;
        change = direction * glm::dot(relative, direction) - relative;
      }
    } else {
      // Already touching: part within one step. Bodies on one spot part by their numbers.
      const Vec2 w = relative - apart / dt_;
      double length = glm::length(w);
      Vec2 unit = length > 1e-9 ? w / length : Vec2{b.who.id < other.who->id ? 1.0 : -1.0, 0};
      direction = {unit.y, -unit.x};
      change = unit * (radius / dt_ - length);
    }
    return {b.velocity + change * share, direction};
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
        target = Vec2{std::cos(heading), std::sin(heading)} * speed * slower;
      }
    }
    const Vec2 change = target - b.velocity;
    const double most = b.who.acceleration * dt_, length = glm::length(change);
    return length > most ? b.velocity + change * (most / length) : target;
  }

  void move(Body& b, const Vec2& velocity) {
    if (b.state == State::offMesh) return;
    if (b.onLink) return flyLink(b);
    turn(b, velocity);
    b.velocity = velocity;
    if (b.who.startTime > now_) return;
    const Vec2 here = plan(b.place.position);
    bool reached = false;
    const Vec2 to = here + velocity * dt_;
    Vec3 end = nav::sightEnd(mesh_, b.place, to, &reached);
    if (!reached) end = slide(b, plan(end), to);
    const Place place = field_.locator().under(end, 0.6);
    if (place.valid()) {
      b.velocity = (plan(place.position) - here) / dt_;
      b.place = place;
    } else {
      b.velocity = Vec2{0};
    }
    if (b.state == State::arrived) return;
    b.standing = glm::length(b.velocity) < kStuckSpeed ? b.standing + dt_ : 0;
    b.state = b.standing > kStuckAfter ? State::stuck : State::moving;
  }

  /// What is left of a step that meets the border goes along the border.
  Vec3 slide(const Body& b, const Vec2& stop, const Vec2& to) const {
    Vec2 best = stop;
    double nearest = glm::distance(stop, to);
    walls_.near(b.place.position, glm::distance(plan(b.place.position), to) + 0.02, [&](const Walls::Edge& e) {
      const Vec2 at = nearestOnSegment(e.a, e.b, to);
      if (const double d = glm::distance(at, to); d < nearest && glm::distance(at, stop) <= glm::distance(stop, to)) best = at, nearest = d;
    });
    // A hair inside, so that the next step starts on the mesh.
    const Place inside = field_.locator().nearest(lift(best, b.place.position.y), 0.5);
    return inside.valid() ? inside.position : lift(stop, b.place.position.y);
  }

  void turn(Body& b, const Vec2& velocity) const {
    const Vec2 aim = glm::length(velocity) > 0.05 ? velocity : b.wanted;
    if (glm::length(aim) < 1e-6) return;
    const double off = std::remainder(std::atan2(aim.y, aim.x) - b.heading, 2 * kPi), most = radians(b.who.turnRate) * dt_;
    b.heading += std::clamp(off, -most, most);
  }

  void flyLink(Body& b) {
    const Vec3 &from = b.path[b.next], &to = b.path[b.next + 1];
    const double length = std::max(0.05, glm::distance(from, to));
    const Vec3 before = b.place.position;
    b.linkDone = std::min(1.0, b.linkDone + b.who.speed * kLinkSpeed * dt_ / length);
    b.place.position = glm::mix(from, to, b.linkDone);
    b.velocity = (plan(b.place.position) - plan(before)) / dt_;
    b.wanted = b.velocity;
    b.state = State::link;
    if (b.linkDone < 1) return;
    b.onLink = false;
    const Place landed = field_.locator().nearest(to, 0.5);
    if (landed.valid()) b.place = landed;
    b.next += b.next + 2 < b.path.size() ? 2u : 1u;
    b.state = State::moving;
    b.velocity = Vec2{0};
  }

  const route::Field& field_;
  const nav::NavMesh& mesh_;
  const SceneOptions options_;
  Walls walls_;
  double dt_, now_ = 0;
  std::size_t steps_ = 0;
  std::vector<Body> bodies_;
  std::vector<Vec2> chosen_;
  std::vector<BodyState> shown_;  // at the begin of the step: what everybody decides from
  PlanGrid grid_;
  std::mutex searchMutex_;
  std::vector<std::unique_ptr<route::Search>> searches_;
};

namespace {

std::optional<Problem> check(const std::vector<Walker>& walkers, const SceneOptions& options) {
  auto bad = [](const std::string& what, const std::string& where) {
    return Problem{ProblemCode::usage, what, where, "positive, finite numbers."};
  };
  if (!(options.rate > 0 && options.rate <= 1000)) return bad("The rate must be between 0 and 1000 steps a second.", "");
  for (const Walker& w : walkers) {
    const bool sane = isFinite(w.start) && isFinite(w.goal) && w.radius > 0 && w.speed > 0 && w.acceleration > 0 && w.turnRate > 0 &&
                      w.passWithin >= 0 && std::isfinite(w.radius + w.speed + w.acceleration + w.startTime);
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
