#include "core/pipeline/sweep.h"

#include <algorithm>
#include <set>

#include "core/base/text.h"
#include "core/pipeline/explainer.h"

namespace dune::pipeline {

namespace {

constexpr double kBeside = 0.25;      // m: how far beside ground places may be for a body without width
constexpr double kFine = 1.0 / 2000;  // of the range: how near thresholds are found
constexpr double kPassing = 0.005;    // m: how near the widest and the tallest are found
constexpr double kLeastRadius = 0.05, kMostRadius = 6, kLeastHeight = 0.2, kMostHeight = 12;  // m

using Built = std::shared_ptr<const mesh::Built>;

/// Builds a world for agents that differ in one limit.
class Trials {
 public:
  Trials(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent, Job& job)
      : world_(makeWorld(project, std::move(level), agent)), agent_(project.agents->agents[agent]), job_(job) {}

  /// `done`: how much of the whole work is done with it, 0 to 1.
  Result<Built> at(double level::Agent::*field, double value, double done) {
    level::Agent a = agent_;
    a.*field = value;
    // How tall it may be is asked of the agent as it stands.
    if (field == &level::Agent::height) a.crouchHeight = 0;
    job_.step(text("trying %.2f", value), std::min(done, 1.0));
    Job part(job_, Job::Quiet{});
    auto built = mesh::build(world_, a, part, last_);
    if (job_.cancelled()) return Job::cancelledProblem();
    if (built) last_ = *built;
    job_.advance(1);
    return built;
  }
  const level::Agent& agent() const { return agent_; }

 private:
  level::World world_;
  level::Agent agent_;
  Job& job_;
  Built last_;
};

/// Who gets from where to where on a mesh, links included.
class Reach {
 public:
  /// `beside`: how far from ground places may be, metres.
  Reach(const mesh::NavMesh& mesh, const project::Project& project, double beside)
      : mesh_(mesh), beside_(beside), locator_(mesh), links_(links::attach(mesh, locator_, project.links->links).links) {}

  bool complete(const Vec3& from, const Vec3& to) const {
    const mesh::Place a = at(from), b = at(to);
    if (!a.valid() || !b.valid()) return false;
    std::vector<std::uint32_t> reached{islandOf(a.face)};
    auto reach = [&](std::uint32_t island) {
      if (std::ranges::count(reached, island) == 0) reached.push_back(island);
    };
    for (std::size_t i = 0; i < reached.size(); ++i)
      for (const mesh::Link& l : links_) {
        if (islandOf(l.fromFace) == reached[i]) reach(islandOf(l.toFace));
        if (!l.oneWay && islandOf(l.toFace) == reached[i]) reach(islandOf(l.fromFace));
      }
    return std::ranges::count(reached, islandOf(b.face)) > 0;
  }

  /// Ground of the islands that the places lie on, m².
  double areaAround(const std::vector<Vec3>& places) const {
    std::set<std::uint32_t> islands;
    for (const Vec3& p : places)
      if (const mesh::Place place = at(p); place.valid()) islands.insert(islandOf(place.face));
    return areaOf(islands);
  }
  double largestIsland() const { return areaOf({0}); }  // islands are numbered by area

 private:
  mesh::Place at(const Vec3& p) const { return locator_.nearest(p, beside_); }
  std::uint32_t islandOf(mesh::FaceId f) const { return mesh_.island[mesh::index(f)]; }
  double areaOf(const std::set<std::uint32_t>& islands) const {
    double area = 0;
    for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f)
      if (islands.count(mesh_.island[f])) area += mesh::faceArea(mesh_, mesh::FaceId{f});
    return area;
  }

  const mesh::NavMesh& mesh_;
  double beside_;
  mesh::Locator locator_;
  std::vector<mesh::Link> links_;
};

struct Stop {
  Vec3 at{};
  std::string cause;
};

/// Where a way over a mesh that is complete is cut on another: where its ground leaves what is reached from the start. Places where the
/// way only goes nearer to corners than the other agent can do not count, for around these it gets on.
class Stopper {
 public:
  Stopper(Built passing, Built stopped, const project::Project& project, double beside)
      : passing_(std::move(passing)),
        stopped_(std::move(stopped)),
        project_(project),
        mesh_(stopped_->mesh),
        locator_(mesh_),
        beside_(beside) {
    tied_ = links::attach(mesh_, locator_, project.links->links);
    mesh_.links = tied_.links;
  }

  Stop between(const Vec3& from, const Vec3& to) {
    const route::PathAnswer answer = wayOf(from, to);
    const std::vector<Step> way = stepsOf(answer);
    if (way.empty()) return {from, {}};
    const route::Field field(mesh_);
    const mesh::Place start = locator_.nearest(from, beside_);
    if (!start.valid()) return explained(way, 0, 1);
    const std::vector<char> reached = field.reachable(start.face);
    std::size_t last = 0, next = way.size();
    for (std::size_t i = 0; i < way.size(); ++i)
      if (const mesh::Place at = nearWay(way[i].at); at.valid() && reached[mesh::index(at.face)]) last = i;
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
  mesh::Place nearWay(const Vec3& at) const {
    return locator_.nearest(at, 1.5 * std::max(0.0, stopped_->agent.radius - passing_->agent.radius) + 0.05);
  }

  route::PathAnswer wayOf(const Vec3& from, const Vec3& to) const {
    mesh::NavMesh mesh = passing_->mesh;
    mesh.links = links::attach(mesh, mesh::Locator(mesh), project_.links->links).links;
    const route::Field field(mesh);
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
      if (auto why = whyNotTaken(way[last].link); !why.empty()) return {way[last].at, why};
    Stop worst{way[last].at, {}};
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t i = last; i < std::min(next + 1, way.size()); ++i) {
      const ground::Explanation e = explainer_.at(stopped_, way[i].at);
      if (e.walkable()) continue;
      const double room = e.decides.limit > 0 ? e.decides.measured / e.decides.limit : 0;
      if (worst.cause.empty() || room < least - 1e-6) worst = {e.at, e.decides.clause}, least = room;
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
  mesh::NavMesh mesh_;
  mesh::Locator locator_;
  links::Attached tied_;
  double beside_;
  Explainer explainer_;
};

class Sweeper {
 public:
  Sweeper(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent, const SweepPlan& plan, Job& job)
      : project_(project), plan_(plan), trials_(project, std::move(level), agent, job) {}

  Result<std::shared_ptr<const Sweep>> run() {
    auto sweep = std::make_shared<Sweep>();
    sweep->from = project_, sweep->plan = plan_;
    sweep->measure = !project_.level->seeds.empty()     ? "ground reached from the seeds"
                     : !project_.routes->routes.empty() ? "ground reached from the starts of the kept routes"
                                                        : "the largest island";
    for (int i = 0; i < plan_.steps; ++i) {
      auto point = at(plan_.from + (plan_.to - plan_.from) * i / (plan_.steps - 1));
      if (!point) return point.problem();
      sweep->points.push_back(*std::move(point));
    }
    for (std::size_t i = 0; i + 1 < sweep->points.size(); ++i)
      for (std::size_t r = 0; r < project_.routes->routes.size(); ++r) {
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
    for (const project::KeptRoute& r : project_.routes->routes) point.complete.push_back(reach.complete(r.from, r.to));
    const std::vector<Vec3> starts = startsOf();
    point.reachable = starts.empty() ? reach.largestIsland() : reach.areaAround(starts);
    return point;
  }

  std::vector<Vec3> startsOf() const {
    if (!project_.level->seeds.empty()) return project_.level->seeds;
    std::vector<Vec3> starts;
    for (const project::KeptRoute& r : project_.routes->routes) starts.push_back(r.from);
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
    const project::KeptRoute& kept = project_.routes->routes[route];
    // A hair beyond the threshold the way can be closed by rounding alone, which is no answer: then a little farther.
    Stop stop;
    for (double beyond = b - a; stop.cause.empty() && beyond <= high.value - low.value; beyond *= 4) {
      const double value = above ? std::max(low.value, b - beyond) : std::min(high.value, a + beyond);
      const auto stopped = trials_.at(fieldOf(plan_.limit), value, 1);
      if (!stopped) return stopped.problem();
      stop = Stopper(*passing, *stopped, project_, route::PathOptions().reach).between(kept.from, kept.to);
    }
    return Threshold{route, above ? b : a, above, stop.at, stop.cause};
  }

  const project::Project& project_;
  SweepPlan plan_;
  Trials trials_;
  int made_ = 0;
};

/// The widest, or tallest, that passes between two places.
class Passage {
 public:
  Passage(const project::Project& project, Trials& trials, const Vec3& from, const Vec3& to)
      : project_(project), trials_(trials), from_(from), to_(to) {}

  Result<Tightest> most(double level::Agent::*field, double least, double most) {
    double low = least, high = most;
    auto stopped = trials_.at(field, high, ++made_ / kExpected);
    if (!stopped) return stopped.problem();
    if (passes(**stopped)) return Tightest{most, true, {}, {}};
    auto passing = trials_.at(field, low, ++made_ / kExpected);
    if (!passing) return passing.problem();
    if (!passes(**passing)) return Tightest{};
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
    found.at = stop.at, found.cause = stop.cause;
    return found;
  }

 private:
  static constexpr double kExpected = 24;  // builds, of both searches

  /// A wide agent cannot come as near to a wall as a narrow one; but the ground beyond the wall is no answer.
  static double beside(const mesh::Built& built) { return built.agent.radius + kBeside; }
  bool passes(const mesh::Built& built) const { return Reach(built.mesh, project_, beside(built)).complete(from_, to_); }

  const project::Project& project_;
  Trials& trials_;
  Vec3 from_, to_;
  int made_ = 0;
};

}  // namespace

double level::Agent::*fieldOf(SweptLimit limit) {
  constexpr double level::Agent::*kFields[] = {&level::Agent::radius, &level::Agent::height, &level::Agent::maxSlope,
                                               &level::Agent::stepHeight};
  return kFields[static_cast<std::size_t>(limit)];
}

Result<std::shared_ptr<const Sweep>> sweep(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent,
                                           const SweepPlan& plan, Job& job) {
  if (plan.steps < 2 || plan.steps > 100 || !(plan.from < plan.to))
    return Problem{ProblemCode::usage, "The range to try makes no sense.", "", "a range from a smaller to a larger value, 2 to 100 steps."};
  for (const double value : {plan.from, plan.to}) {
    level::Agent a = project.agents->agents[agent];
    a.*fieldOf(plan.limit) = value;
    if (auto problem = level::checkAgent(a)) return *problem;
  }
  return Sweeper(project, std::move(level), agent, plan, job).run();
}

Result<Passing> widestPassing(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent,
                              const Vec3& from, const Vec3& to, Job& job) {
  Trials trials(project, std::move(level), agent, job);
  Passage passage(project, trials, from, to);
  const auto radius = passage.most(&level::Agent::radius, kLeastRadius, kMostRadius);
  if (!radius) return radius.problem();
  const auto height = passage.most(&level::Agent::height, std::max(kLeastHeight, trials.agent().stepHeight + 0.01), kMostHeight);
  if (!height) return height.problem();
  return Passing{*radius, *height};
}

}  // namespace dune::pipeline
