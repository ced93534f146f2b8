#include "core/pipeline/sweep.h"

#include <algorithm>
#include <set>

#include "core/base/text.h"
#include "core/pipeline/explainer.h"

namespace dune::pipeline {

namespace {

constexpr double kBeside = 0.25;       // m: how far beside ground places may be for a body without width
constexpr double kFine = 1.0 / 2000;   // of the range: how near thresholds are found
constexpr double kPassing = 0.005;     // m: how near the widest and the tallest are found
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

/// The first place along the way over a mesh that is complete at which another build has no ground.
Stop firstStop(const mesh::Built& passing, const Built& stopped, const Vec3& from, const Vec3& to, double beside) {
  constexpr double kStride = 0.05;  // m
  const route::Field field(passing.mesh);
  route::Search search(field);
  const std::vector<Vec3> way = route::findPath(field, search, from, to, {beside, false, false}).points;
  Explainer explainer;
  for (std::size_t i = 0; i + 1 < way.size(); ++i) {
    const int steps = std::max(1, static_cast<int>(glm::distance(way[i], way[i + 1]) / kStride));
    for (int k = 0; k <= steps; ++k) {
      const ground::Explanation e = explainer.at(stopped, glm::mix(way[i], way[i + 1], static_cast<double>(k) / steps));
      if (!e.walkable()) return {e.at, e.decides.clause};
    }
  }
  return {way.empty() ? from : way.back(), {}};
}

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
      stop = firstStop(**passing, *stopped, kept.from, kept.to, route::PathOptions().reach);
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
    const Stop stop = firstStop(**passing, *stopped, from_, to_, beside(**passing));
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
  constexpr double level::Agent::*kFields[] = {&level::Agent::radius, &level::Agent::height, &level::Agent::maxSlope, &level::Agent::stepHeight};
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

Result<Passing> widestPassing(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent, const Vec3& from,
                              const Vec3& to, Job& job) {
  Trials trials(project, std::move(level), agent, job);
  Passage passage(project, trials, from, to);
  const auto radius = passage.most(&level::Agent::radius, kLeastRadius, kMostRadius);
  if (!radius) return radius.problem();
  const auto height = passage.most(&level::Agent::height, std::max(kLeastHeight, trials.agent().stepHeight + 0.01), kMostHeight);
  if (!height) return height.problem();
  return Passing{*radius, *height};
}

}  // namespace dune::pipeline
