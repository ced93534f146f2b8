#include "core/pipeline/crowd_scene.h"

#include <algorithm>

#include "core/pipeline/ring_goals.h"

namespace dune::pipeline {

namespace {

using project::CrowdGroup;
using project::GoalKind;
using project::StartForm;

constexpr int kMostRings = 60;     // around a start
constexpr double kNearObject = 5;  // m from a named object at which there must be ground

Problem noSuch(const CrowdGroup& g, const std::string& what, const std::string& advice) {
  return {ProblemCode::unusable, what, "group " + std::to_string(g.id), advice};
}

Vec2 around(double angle) { return {std::cos(angle), std::sin(angle)}; }

class Maker {
 public:
  Maker(const project::Project& project, const KindGrounds& grounds, std::size_t agent, const std::string& scene,
        const std::optional<crowd::SteeringSettings>& instead)
      : project_(project), grounds_(grounds), agent_(agent), instead_(instead) {
    for (const CrowdGroup& g : project.crowd->groups)
      if (g.scene == scene) groups_.push_back(&g);
    result_.options.steerings.clear();
    for (const project::CrowdObstacle& o : project.crowd->obstacles)
      if (o.scene == scene) result_.options.obstacles.push_back(o);
  }

  Result<CrowdScene> make() {
    for (const CrowdGroup* g : groups_)
      if (auto problem = place(*g)) return *problem;
    if (result_.options.steerings.empty()) result_.options.steerings.emplace_back();
    for (std::size_t i = 0; i < groups_.size(); ++i)
      if (auto problem = send(*groups_[i], i)) return *problem;
    for (const auto& ground : result_.grounds) result_.fields.push_back(ground->field.get());
    return std::move(result_);
  }

 private:
  /// The number of a group's ground among those that are walked on.
  std::optional<std::size_t> groundOf(const CrowdGroup& g) {
    std::size_t kind = agent_;
    const auto& agents = project_.agents->agents;
    for (std::size_t i = 0; g.agent != 0 && i < agents.size(); ++i)
      if (agents[i].id == g.agent) kind = i;
    if (kind >= grounds_.size() || !grounds_[kind]) return std::nullopt;
    const auto number = static_cast<std::size_t>(std::ranges::find(kinds_, kind) - kinds_.begin());
    if (number == kinds_.size()) result_.grounds.push_back(grounds_[kind]), kinds_.push_back(kind);
    return number;
  }

  std::optional<Problem> place(const CrowdGroup& g) {
    const auto mesh = groundOf(g);
    if (!mesh) return noSuch(g, "There is no walkable ground for this group's kind of agent.", "building it, or another kind of agent.");
    const Ground& ground = *result_.grounds[*mesh];
    const nav::Agent& kind = project_.agents->agents[kinds_[*mesh]];
    crowd::Walker like;
    like.radius = g.radius > 0 ? g.radius : kind.radius, like.speed = g.speed > 0 ? g.speed : kind.speed;
    like.acceleration = kind.acceleration, like.turnRate = kind.turnRate;
    like.arriveWithin = kind.arriveWithin, like.passWithin = kind.passWithin, like.originHeight = kind.originHeight;
    like.group = g.id, like.priority = g.priority, like.mesh = *mesh, like.goal = g.goal;
    like.steering = result_.options.steerings.size();
    result_.options.steerings.push_back(instead_ ? *instead_ : g.steering);
    say(g, kind, like);
    first_.push_back(result_.walkers.size());
    const std::vector<Vec3> starts = startsOf(g, ground, like.radius);
    for (std::size_t i = 0; i < starts.size(); ++i) {
      crowd::Walker w = like;
      w.id = static_cast<int>(result_.walkers.size()) + 1, w.start = starts[i], w.startTime = g.every * static_cast<double>(i);
      result_.walkers.push_back(w);
    }
    const int placed = static_cast<int>(starts.size());
    if (placed < g.count) result_.findings.push_back(review::tooFewPlaces(g.id, g.count, placed, g.start));
    return std::nullopt;
  }

  void say(const CrowdGroup& g, const nav::Agent& kind, const crowd::Walker& like) {
    constexpr double kMore = 1e-6;
    if (like.radius > kind.radius + kMore) result_.findings.push_back(review::widerThanMesh(g.id, like.radius, kind.radius, g.start));
    if (like.speed > kind.speed + kMore) result_.findings.push_back(review::fasterThanAgent(g.id, like.speed, kind.speed, g.start));
  }

  std::vector<Vec3> startsOf(const CrowdGroup& g, const Ground& ground, double radius) const {
    const nav::Place centre = ground.locator().nearest(g.start, kOffGround);
    const auto all = static_cast<std::size_t>(g.count);
    std::vector<Vec3> starts;
    // One after the other they may all begin at one place.
    if (g.every > 0 && g.startForm == StartForm::area) return std::vector<Vec3>(all, centre.valid() ? centre.position : g.start);
    // Places are kept where the ground goes on in a straight line from the start; without ground at all, the bodies are put where they
    // were drawn, and the review says so.
    const auto offer = [&](const Vec2& q) {
      if (starts.size() >= all) return;
      Vec3 at = lift(q, g.start.y);
      if (centre.valid()) {
        const nav::Ray ray = nav::castRay(ground.mesh, centre, q, &ground.rules);
        if (!ray.reached) return;
        at = ray.end.position;
      }
      if (isFree(at, radius)) starts.push_back(at);
    };
    const Vec2 middle = plan(centre.valid() ? centre.position : g.start);
    if (g.startForm == StartForm::line) {
      const Vec2 line = plan(g.startEnd) - plan(g.start);
      const double length = std::max(1e-6, glm::length(line));
      const int seats = std::max(1, static_cast<int>(length / (kBodiesApart * radius)) + 1);
      for (int row = 0; starts.size() < all && row < kMostRings; ++row)
        for (int seat = 0; seat < seats; ++seat)
          offer(middle + line * (seats == 1 ? 0.5 : seat / (seats - 1.0)) - leftOf(line / length) * (row * kBodiesApart * radius));
      return starts;
    }
    const double inner = g.startForm == StartForm::ring ? g.startRadius : 0;
    for (int ring = 0; starts.size() < all && ring < kMostRings; ++ring) {
      const double out = inner + ring * radius * kBodiesApart;
      const int fit = inner > 0 ? std::max(1, static_cast<int>(2 * kPi * out / (kBodiesApart * radius))) : ring == 0 ? 1 : 6 * ring;
      // On a ring that has room for all they stand evenly.
      const int seats = inner > 0 ? std::min(fit, static_cast<int>(all - starts.size())) : fit;
      for (int seat = 0; seat < seats; ++seat) offer(middle + around(2 * kPi * seat / seats) * out);
    }
    return starts;
  }

  /// Whether nobody of another group begins there.
  bool isFree(const Vec3& at, double radius) const {
    return std::ranges::none_of(result_.walkers,
                                [&](const crowd::Walker& w) { return w.startTime == 0 && glm::distance(w.start, at) < w.radius + radius; });
  }

  std::span<crowd::Walker> bodiesOf(std::size_t group) {
    const std::size_t end = group + 1 < first_.size() ? first_[group + 1] : result_.walkers.size();
    return std::span(result_.walkers).subspan(first_[group], end - first_[group]);
  }

  std::optional<Problem> send(const CrowdGroup& g, std::size_t number) {
    const std::span<crowd::Walker> bodies = bodiesOf(number);
    if (bodies.empty()) return std::nullopt;
    if (g.goalKind == GoalKind::object) return toObject(g, bodies);
    if (g.goalKind == GoalKind::group) return afterGroup(g, bodies);
    if (g.goalKind == GoalKind::round)
      for (crowd::Walker& w : bodies) w.round = g.round;
    if (g.goalKind == GoalKind::across)
      for (crowd::Walker& w : bodies) w.goal = {2 * g.start.x - w.start.x, w.start.y, 2 * g.start.z - w.start.z};
    if (g.goalKind == GoalKind::around) sendAround(bodies, *result_.grounds[bodies[0].mesh], g.goal, g.around);
    return std::nullopt;
  }

  std::optional<Problem> toObject(const CrowdGroup& g, std::span<crowd::Walker> bodies) {
    const Ground& ground = *result_.grounds[bodies[0].mesh];
    const auto& objects = ground.source->objects;
    const auto found = std::ranges::find(objects, g.object, &level::Object::name);
    if (found == objects.end())
      return noSuch(g, "The group goes to \"" + g.object + "\", which the level does not have.", "another object, or a place.");
    const Box3 box = found->bounds();
    const Vec3 middle = (box.min + box.max) * 0.5, foot{middle.x, box.min.y, middle.z};
    const double wide = glm::length(plan(box.max) - plan(box.min)) / 2;
    const nav::Place place = ground.locator().nearest(foot, wide + kNearObject);
    if (!place.valid()) return noSuch(g, "There is no ground near \"" + g.object + "\".", "another object, or a place.");
    for (crowd::Walker& w : bodies) w.goal = place.position;
    return std::nullopt;
  }

  std::optional<Problem> afterGroup(const CrowdGroup& g, std::span<crowd::Walker> bodies) {
    const auto quarry = std::ranges::find(groups_, g.quarry, &CrowdGroup::id);
    if (quarry == groups_.end() || g.quarry == g.id)
      return noSuch(g, "The group follows group " + std::to_string(g.quarry) + ", which is not in this scene.",
                    "another group, or a place.");
    const std::span<crowd::Walker> followed = bodiesOf(static_cast<std::size_t>(quarry - groups_.begin()));
    if (followed.empty()) return noSuch(g, "The group that it follows has nobody in it.", "room for that group at its start.");
    for (std::size_t i = 0; i < bodies.size(); ++i) {
      crowd::Walker& w = bodies[i];
      const crowd::Walker& other = followed[i % followed.size()];
      w.chase = crowd::Chase{.agent = other.id, .keep = w.radius + other.radius + 0.4};
      // Several that follow one come to places around it.
      const std::size_t sharing = (bodies.size() - i % followed.size() + followed.size() - 1) / followed.size();
      if (sharing > 1)
        w.chase->beside =
            around(2 * kPi * static_cast<double>(i / followed.size()) / static_cast<double>(sharing)) * std::max(g.around, w.chase->keep);
      w.goal = other.start;
    }
    return std::nullopt;
  }

  const project::Project& project_;
  const KindGrounds& grounds_;
  std::size_t agent_;
  const std::optional<crowd::SteeringSettings>& instead_;
  std::vector<const CrowdGroup*> groups_;
  std::vector<std::size_t> kinds_;  // of agent, one a ground of the result
  std::vector<std::size_t> first_;  // walker of each group
  CrowdScene result_;
};

}  // namespace

Result<CrowdScene> makeScene(const project::Project& project, const KindGrounds& grounds, std::size_t agent, const std::string& scene,
                             const std::optional<crowd::SteeringSettings>& instead) {
  return Maker(project, grounds, agent, scene, instead).make();
}

}  // namespace dune::pipeline
