#include "core/pipeline/sweep.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/pipeline/explainer.h"
#include "core/pipeline/kept_routes.h"
#include "core/pipeline/world.h"
#include "core/project/rules.h"

namespace dune::pipeline {

namespace {

constexpr double kBeside = 0.25;      // m: how far beside ground places may be for a body without width
constexpr double kFine = 1.0 / 2000;  // of the range: how near thresholds are found
constexpr double kPassing = 0.005;    // m: how near the widest and the tallest are found
constexpr double kLeastRadius = 0.05, kMostRadius = 6, kLeastHeight = 0.2, kMostHeight = 12;  // m

using Built = std::shared_ptr<const generate::Built>;

/// Builds a world for agents that differ in one limit.
class Trials {
 public:
  Trials(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent, Job& job)
      : world_(makeWorld(project, std::move(level), agent)), agent_(project.agents->agents[agent]), job_(job) {}

  /// `done`: how much of the whole work is done with it, 0 to 1.
  Result<Built> at(double nav::Agent::*field, double value, double done) {
    nav::Agent a = agent_;
    a.*field = value;
    // How tall it may be is asked of the agent as it stands.
    if (field == &nav::Agent::height) a.crouchHeight = 0;
    constexpr double kNearlyDone = 0.99;  // how many builds there will be is a guess
    job_.step(text("trying %.2f", value), std::min(done, kNearlyDone));
    Job part(job_, Job::Quiet{});
    auto built = generate::build(world_, a, part, last_);
    if (job_.cancelled()) return Job::cancelledProblem();
    if (built) last_ = *built;
    job_.advance(1);
    return built;
  }
  /// Builds for another agent altogether.
  Result<Built> with(const nav::Agent& a) {
    Job part(job_, Job::Quiet{});
    auto built = generate::build(world_, a, part, last_);
    if (job_.cancelled()) return Job::cancelledProblem();
    return built;
  }
  const nav::Agent& agent() const { return agent_; }

 private:
  level::World world_;
  nav::Agent agent_;
  Job& job_;
  Built last_;
};

/// Of the project's agent of that name, whatever limits it has while one of them is swept.
nav::Rules rulesOf(const project::Project& project, const nav::NavMesh& mesh) {
  project::AgentKind agent(mesh.agent);
  if (const project::AgentKind* own = project::agentNamed(*project.agents, agent.name)) agent.id = own->id;
  return project::rulesFor(*project.areas, agent);
}

/// A mesh as it was built, with what was made by hand on it.
nav::NavMesh laid(const nav::NavMesh& built, const project::Project& project) {
  const project::AgentKind* agent = project::agentNamed(*project.agents, built.agent.name);
  return hand::lay(built, *project.hand, agent ? agent->id : 0, standingFor(project, built.agent.name)).mesh;
}

/// Who gets from where to where on a mesh: over ground that may be walked on, and links.
class Reach {
 public:
  /// `beside`: how far from ground places may be, metres.
  Reach(const nav::NavMesh& mesh, const project::Project& project, double beside)
      : mesh_(linked(mesh, project)), beside_(beside), field_(mesh_, rulesOf(project, mesh_)) {}

  bool complete(const Vec3& from, const Vec3& to) const {
    const nav::Place a = at(from), b = at(to);
    return a.valid() && b.valid() && field_.reaches(a.face, b.face);
  }

  /// Ground that can be walked to from the places, m².
  double areaFrom(const std::vector<Vec3>& places) const {
    std::vector<char> any(mesh_.faceCount(), 0);
    for (const Vec3& p : places) {
      const nav::Place place = at(p);
      if (!place.valid() || any[nav::index(place.face)]) continue;
      const std::vector<char> reached = field_.reachable(place.face);
      for (std::size_t f = 0; f < any.size(); ++f) any[f] = any[f] || reached[f];
    }
    return areaOf([&](std::uint32_t f) { return any[f] != 0; });
  }
  /// Islands are numbered by area.
  double largestIsland() const {
    return areaOf([&](std::uint32_t f) { return mesh_.island[f] == 0 && field_.passable(nav::FaceId{f}); });
  }

 private:
  static nav::NavMesh linked(const nav::NavMesh& built, const project::Project& project) {
    nav::NavMesh mesh = laid(built, project);
    mesh.links = linksOn(mesh, nav::Locator(mesh), project).links;
    return mesh;
  }
  nav::Place at(const Vec3& p) const { return field_.locator().nearest(p, beside_); }
  template <class Counts>
  double areaOf(Counts&& counts) const {
    double area = 0;
    for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f)
      if (counts(f)) area += nav::faceArea(mesh_, nav::FaceId{f});
    return area;
  }

  nav::NavMesh mesh_;
  double beside_;
  route::Field field_;
};

struct Stop {
  Vec3 at{};
  std::string cause, brief;
};

/// Where a way over a mesh that is complete is cut on another: where its ground leaves what is reached from the start. Places where the
/// way only goes nearer to corners than the other agent can do not count, for around these it gets on.
class Stopper {
 public:
  Stopper(Built passing, Built stopped, const project::Project& project, double beside)
      : passing_(std::move(passing)),
        stopped_(std::move(stopped)),
        project_(project),
        mesh_(laid(stopped_->mesh, project)),
        locator_(mesh_),
        beside_(beside) {
    tied_ = linksOn(mesh_, locator_, project);
    mesh_.links = tied_.links;
  }

  Stop between(const Vec3& from, const Vec3& to) {
    const route::PathAnswer answer = wayOf(from, to);
    const std::vector<Step> way = stepsOf(answer);
    if (way.empty()) return {from, {}, {}};
    const route::Field field(mesh_, rulesOf(project_, mesh_));
    const nav::Place start = locator_.nearest(from, beside_);
    if (!start.valid()) return explained(way, 0, 1);
    const std::vector<char> reached = field.reachable(start.face);
    std::size_t last = 0, next = way.size();
    for (std::size_t i = 0; i < way.size(); ++i)
      if (const nav::Place at = nearWay(way[i].at); at.valid() && reached[nav::index(at.face)]) last = i;
    for (std::size_t i = way.size(); i-- > last + 1;)
      if (nearWay(way[i].at).valid()) next = i;
    return explained(way, last, next);
  }

 private:
  struct Step {
    Vec3 at;
    int link = -1;  // whose flight begins here, by its id
  };
  /// A way near a corner has the wider agent's ground beside it, by the difference of both and a little for the corner's shape.
  nav::Place nearWay(const Vec3& at) const {
    return locator_.nearest(at, 1.5 * std::max(0.0, stopped_->agent.radius - passing_->agent.radius) + 0.05);
  }

  route::PathAnswer wayOf(const Vec3& from, const Vec3& to) const {
    nav::NavMesh mesh = laid(passing_->mesh, project_);
    mesh.links = linksOn(mesh, nav::Locator(mesh), project_).links;
    const route::Field field(mesh, rulesOf(project_, mesh));
    route::Search search(field);
    return route::findPath(field, search, from, to, {beside_, false, false});
  }

  static std::vector<Step> stepsOf(const route::PathAnswer& answer) {
    constexpr double kStride = 0.05;  // m
    std::vector<Step> steps;
    for (std::size_t i = 0; i < answer.points.size(); ++i) {
      const auto link = std::ranges::find(answer.links, static_cast<std::uint32_t>(i), &route::LinkUse::enter);
      steps.push_back({answer.points[i], link == answer.links.end() ? -1 : link->id});
      if (steps.back().link >= 0 || i + 1 == answer.points.size()) continue;  // there is no ground under a flight
      const int between = static_cast<int>(glm::distance(answer.points[i], answer.points[i + 1]) / kStride);
      for (int k = 1; k < between; ++k)
        steps.push_back({glm::mix(answer.points[i], answer.points[i + 1], static_cast<double>(k) / between)});
    }
    return steps;
  }

  /// What forbids the steps from the last one that is reached to the next one that has ground: the worst of it.
  Stop explained(const std::vector<Step>& way, std::size_t last, std::size_t next) {
    if (way[last].link >= 0)
      if (auto why = whyNotTaken(way[last].link); !why.empty()) return {way[last].at, why, why};
    Stop worst{way[last].at, {}, {}};
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t i = last; i < std::min(next + 1, way.size()); ++i) {
      const ground::Explanation e = explainer_.at(stopped_, way[i].at);
      if (e.walkable()) continue;
      const double room = e.decides.limit > 0 ? e.decides.measured / e.decides.limit : 0;
      if (worst.cause.empty() || room < least - 1e-6) worst = {e.at, e.decides.clause(), e.decides.brief}, least = room;
    }
    return worst;
  }

  std::string whyNotTaken(int link) const {
    if (const links::Beyond* b = links::withId(tied_.beyond, link)) return text("link %d: ", link) + b->why;
    if (const links::Broken* b = links::withId(tied_.broken, link)) return text("link %d: ", link) + b->why;
    return {};
  }

  Built passing_, stopped_;
  const project::Project& project_;
  nav::NavMesh mesh_;
  nav::Locator locator_;
  links::Attached tied_;
  double beside_;
  Explainer explainer_;
};

class Sweeper {
 public:
  Sweeper(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent, const SweepPlan& plan, Job& job)
      : project_(project),
        routes_(routesOf(project, *level, project.agents->agents[agent].id)),
        plan_(plan),
        trials_(project, std::move(level), agent, job) {}

  Result<std::shared_ptr<const Sweep>> run() {
    auto sweep = std::make_shared<Sweep>();
    sweep->from = project_, sweep->routes = routes_, sweep->plan = plan_;
    sweep->measure = !project_.level->seeds.empty() ? "ground reached from the seeds"
                     : !routes_.routes.empty()      ? "ground reached from the starts of the kept routes"
                                                    : "the largest island";
    for (int i = 0; i < plan_.steps; ++i) {
      auto point = at(plan_.from + (plan_.to - plan_.from) * i / (plan_.steps - 1));
      if (!point) return point.problem();
      sweep->points.push_back(*std::move(point));
    }
    for (std::size_t i = 0; i + 1 < sweep->points.size(); ++i)
      for (std::size_t r = 0; r < routes_.routes.size(); ++r) {
        if (sweep->points[i].complete[r] == sweep->points[i + 1].complete[r]) continue;
        auto threshold = between(sweep->points[i], sweep->points[i + 1], r);
        if (!threshold) return threshold.problem();
        sweep->thresholds.push_back(*threshold);
      }
    return std::shared_ptr<const Sweep>(std::move(sweep));
  }

 private:
  Result<SweepPoint> at(double value) {
    auto built = trials_.at(fieldOf(plan_.limit), value, (++made_) / (plan_.steps + 8.0));
    if (!built) return built.problem();
    const Reach reach((*built)->mesh, project_, route::PathOptions().reach);  // as kept routes are asked
    SweepPoint point{value, 0, {}};
    for (const project::KeptRoute& r : routes_.routes) point.complete.push_back(reach.complete(r.from, r.to));
    const std::vector<Vec3> starts = startsOf();
    point.reachable = starts.empty() ? reach.largestIsland() : reach.areaFrom(starts);
    return point;
  }

  std::vector<Vec3> startsOf() const {
    if (!project_.level->seeds.empty()) return project_.level->seeds;
    std::vector<Vec3> starts;
    for (const project::KeptRoute& r : routes_.routes) starts.push_back(r.from);
    return starts;
  }

  Result<Threshold> between(const SweepPoint& low, const SweepPoint& high, std::size_t route) {
    double a = low.value, b = high.value;
    while (b - a > (plan_.to - plan_.from) * kFine) {
      auto middle = at((a + b) / 2);
      if (!middle) return middle.problem();
      (middle->complete[route] == low.complete[route] ? a : b) = middle->value;
    }
    const bool above = high.complete[route];
    const auto passing = trials_.at(fieldOf(plan_.limit), above ? b : a, 1);
    if (!passing) return passing.problem();
    const project::KeptRoute& kept = routes_.routes[route];
    // A hair beyond the threshold the way can be closed by rounding alone, which is no answer: then a little farther.
    Stop stop;
    for (double beyond = b - a; stop.cause.empty() && beyond <= high.value - low.value; beyond *= 4) {
      const double value = above ? std::max(low.value, b - beyond) : std::min(high.value, a + beyond);
      const auto stopped = trials_.at(fieldOf(plan_.limit), value, 1);
      if (!stopped) return stopped.problem();
      stop = Stopper(*passing, *stopped, project_, route::PathOptions().reach).between(kept.from, kept.to);
    }
    return Threshold{route, above ? b : a, above, stop.at, stop.cause, stop.brief};
  }

  const project::Project& project_;
  project::RoutesSection routes_;
  SweepPlan plan_;
  Trials trials_;
  int made_ = 0;
};

/// The widest, or tallest, that passes between two places.
class Passage {
 public:
  Passage(const project::Project& project, Trials& trials, const Vec3& from, const Vec3& to)
      : project_(project), trials_(trials), from_(from), to_(to) {}

  Result<Tightest> most(double nav::Agent::*field, double least, double most) {
    double low = least, high = most;
    auto stopped = trials_.at(field, high, ++made_ / kExpected);
    if (!stopped) return stopped.problem();
    if (passes(**stopped)) return Tightest{most, true, {}, {}, {}};
    auto passing = trials_.at(field, low, ++made_ / kExpected);
    if (!passing) return passing.problem();
    if (!passes(**passing)) {
      const auto stop = whyNobody(*passing);
      if (!stop) return stop.problem();
      return Tightest{0, false, stop->at, stop->cause, stop->brief};
    }
    while (high - low > kPassing) {
      // Small values first: most passages are narrow compared with what is tried.
      const double middle = high > 2 * low ? std::sqrt(low * high) : (low + high) / 2;
      auto built = trials_.at(field, middle, ++made_ / kExpected);
      if (!built) return built.problem();
      const bool enough = passes(**built);
      (enough ? low : high) = middle;
      (enough ? passing : stopped) = std::move(built);
    }
    Tightest found;
    found.most = low;
    const Stop stop = Stopper(*passing, *stopped, project_, beside(**passing)).between(from_, to_);
    found.at = stop.at, found.cause = stop.cause, found.brief = stop.brief;
    return found;
  }

 private:
  /// Why not even the least gets there: an end that is on no ground; else another of its limits, if one alone is what stops it; else
  /// what lies beyond the place from which no ground leads on.
  Result<Stop> whyNobody(const Built& built) {
    const nav::NavMesh mesh = laid(built->mesh, project_);
    const nav::Locator locator(mesh);
    if (const auto stop = endOffGround(built, locator)) return *stop;
    for (const auto& [field, easy] : {std::pair(&nav::Agent::height, std::max(kLeastHeight, built->agent.stepHeight + 0.01)),
                                      {&nav::Agent::stepHeight, built->agent.height - 0.05},
                                      {&nav::Agent::maxSlope, kSteepest}}) {
      nav::Agent eased = built->agent;
      eased.*field = easy;
      if (field == &nav::Agent::height) eased.crouchHeight = 0;
      const auto passing = trials_.with(eased);
      if (!passing) return passing.problem();
      if (passes(**passing)) return Stopper(*passing, built, project_, beside(*built)).between(from_, to_);
    }
    return endOfGround(built, mesh, locator);
  }

  std::optional<Stop> endOffGround(const Built& built, const nav::Locator& locator) {
    Explainer explainer;
    for (const auto& [place, name] : {std::pair(from_, "the start"), {to_, "the goal"}}) {
      if (locator.nearest(place, beside(*built)).valid()) continue;
      const ground::Explanation e = explainer.at(built, place);
      const std::string where = std::string(name) + " is on no ground";
      return Stop{place, e.walkable() ? where : where + ": " + e.decides.clause(), e.walkable() ? where : where + ": " + e.decides.brief};
    }
    return std::nullopt;
  }

  Stop endOfGround(const Built& built, nav::NavMesh mesh, const nav::Locator& locator) {
    Explainer explainer;
    mesh.links = linksOn(mesh, locator, project_).links;
    const route::Field field(mesh, rulesOf(project_, mesh));
    route::Search search(field);
    const route::PathAnswer nearest = route::findPath(field, search, from_, to_, {beside(*built), false, false});
    const Vec3 end = nearest.points.empty() ? from_ : nearest.points.back();
    constexpr double kStride = 0.05;  // m
    const int strides = static_cast<int>(glm::distance(end, to_) / kStride);
    for (int i = 1; i <= strides; ++i) {
      const ground::Explanation e = explainer.at(built, glm::mix(end, to_, static_cast<double>(i) / strides));
      if (!e.walkable()) return {e.at, e.decides.clause(), e.decides.brief};
    }
    return {end, "no ground leads on from here", "no ground leads on from here"};
  }

  static constexpr double kExpected = 24;  // builds, of both searches
  static constexpr double kSteepest = 85;  // degrees

  /// A wide agent cannot come as near to a wall as a narrow one; but the ground beyond the wall is no answer.
  static double beside(const generate::Built& built) { return built.agent.radius + kBeside; }
  bool passes(const generate::Built& built) const { return Reach(built.mesh, project_, beside(built)).complete(from_, to_); }

  const project::Project& project_;
  Trials& trials_;
  Vec3 from_, to_;
  int made_ = 0;
};

}  // namespace

double nav::Agent::*fieldOf(SweptLimit limit) {
  constexpr double nav::Agent::*kFields[] = {&nav::Agent::radius, &nav::Agent::height, &nav::Agent::maxSlope, &nav::Agent::stepHeight};
  return kFields[static_cast<std::size_t>(limit)];
}

namespace {

/// A mesh from elsewhere is what it is, whatever the limits.
std::optional<Problem> notBuilt(const project::Project& project, std::size_t agent) {
  if (!project::givenFor(*project.level, project.agents->agents[agent].id)) return std::nullopt;
  return Problem{ProblemCode::usage, "The mesh of this kind of agent is from elsewhere: it is the same with every limit.", "",
                 "building from the level, under Mesh."};
}

}  // namespace

Result<std::shared_ptr<const Sweep>> sweep(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent,
                                           const SweepPlan& plan, Job& job) {
  if (auto problem = notBuilt(project, agent)) return *problem;
  if (plan.steps < 2 || plan.steps > 100 || !(plan.from < plan.to))
    return Problem{ProblemCode::usage, "The range to try makes no sense.", "", "a range from a smaller to a larger value, 2 to 100 steps."};
  for (const double value : {plan.from, plan.to}) {
    nav::Agent a = project.agents->agents[agent];
    a.*fieldOf(plan.limit) = value;
    if (auto problem = nav::checkAgent(a)) return *problem;
  }
  return Sweeper(project, std::move(level), agent, plan, job).run();
}

Result<Passing> widestPassing(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent,
                              const Vec3& from, const Vec3& to, Job& job) {
  if (auto problem = notBuilt(project, agent)) return *problem;
  Trials trials(project, std::move(level), agent, job);
  Passage passage(project, trials, from, to);
  const auto radius = passage.most(&nav::Agent::radius, kLeastRadius, kMostRadius);
  if (!radius) return radius.problem();
  const auto height = passage.most(&nav::Agent::height, std::max(kLeastHeight, trials.agent().stepHeight + 0.01), kMostHeight);
  if (!height) return height.problem();
  return Passing{*radius, *height};
}

}  // namespace dune::pipeline
