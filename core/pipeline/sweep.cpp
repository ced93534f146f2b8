#include "core/pipeline/sweep.h"

#include <algorithm>
#include <set>

#include "core/base/text.h"
#include "core/pipeline/explainer.h"

namespace dune::pipeline {

namespace {

constexpr double kBeside = 0.25;       // m: how far beside ground places may be for a body without width
constexpr double kReach = 2;           // m: how far places may be from ground
constexpr double kFine = 1.0 / 2000;   // of the range: how near thresholds are found
constexpr double kPassing = 0.005;     // m: how near the widest and the tallest are found
constexpr double kLeastRadius = 0.05, kMostRadius = 6, kLeastHeight = 0.2, kMostHeight = 12;  // m

using Built = std::shared_ptr<const mesh::Built>;

/// Builds a world for agents that differ in one limit. Progress is told by the caller, who knows how many builds there are.
class Trials {
 public:
  Trials(const project::Project& project, std::shared_ptr<const level::Level> level, std::size_t agent, Job& job)
      : project_(project), world_(makeWorld(project, std::move(level), agent)), agent_(project.agents->agents[agent]), job_(job) {}

  /// Says how far it is as a part of the builds expected.
  Result<Built> at(double level::Agent::*field, double value, double done) {
    level::Agent a = agent_;
    a.*field = value;
    job_.step(text("trying %.2f", value), std::min(done, 1.0));
    Job part(job_, Job::Quiet{});
    auto built = mesh::build(world_, a, part);
    job_.advance(1);
    if (job_.cancelled()) return Job::cancelledProblem();
    return built;
  }
  /// Whether a walker gets from one place to the other on a mesh, links included.
  bool complete(const mesh::NavMesh& m, const Vec3& from, const Vec3& to) const {
    const mesh::Locator locator(m);
    // A wide agent cannot come as near to a wall as a narrow one; but the ground beyond the wall is no answer.
    const double reach = m.agent.radius + kBeside;
    const mesh::Place a = locator.nearest(from, reach), b = locator.nearest(to, reach);
    if (!a.valid() || !b.valid()) return false;
    const links::Attached attached = links::attach(m, locator, project_.links->links);
    std::vector<std::uint32_t> reached{m.island[mesh::index(a.face)]};
    for (std::size_t i = 0; i < reached.size(); ++i)
      for (const mesh::Link& l : attached.links) {
        const std::uint32_t start = m.island[mesh::index(l.fromFace)], end = m.island[mesh::index(l.toFace)];
        if (start == reached[i] && !std::ranges::count(reached, end)) reached.push_back(end);
        if (!l.oneWay && end == reached[i] && !std::ranges::count(reached, start)) reached.push_back(start);
      }
    return std::ranges::count(reached, m.island[mesh::index(b.face)]) > 0;
  }
  const level::Agent& agent() const { return agent_; }

 private:
  const project::Project& project_;
  level::World world_;
  level::Agent agent_;
  Job& job_;
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
    const mesh::NavMesh& m = (*built)->mesh;
    SweepPoint point{value, 0, {}};
    for (const project::KeptRoute& r : project_.routes->routes) point.complete.push_back(trials_.complete(m, r.from, r.to));
    point.reachable = reachable(m);
    return point;
  }

  double reachable(const mesh::NavMesh& m) const {
    const mesh::Locator locator(m);
    std::set<std::uint32_t> islands;
    const bool seeds = !project_.level->seeds.empty();
    auto add = [&](const Vec3& p) {
      if (const mesh::Place place = locator.nearest(p, kReach); place.valid()) islands.insert(m.island[mesh::index(place.face)]);
    };
    if (seeds)
      for (const Vec3& s : project_.level->seeds) add(s);
    else if (!project_.routes->routes.empty())
      for (const project::KeptRoute& r : project_.routes->routes) add(r.from);
    else
      islands.insert(0);  // islands are numbered by area
    double area = 0;
    for (std::uint32_t f = 0; f < m.faceCount(); ++f)
      if (islands.count(m.island[f])) area += mesh::faceArea(m, mesh::FaceId{f});
    return area;
  }

  Result<Threshold> between(const SweepPoint& low, const SweepPoint& high, std::size_t route) {
    double a = low.value, b = high.value;
    while (b - a > (plan_.to - plan_.from) * kFine) {
      auto middle = at((a + b) / 2);
      if (!middle) return middle.problem();
      (middle->complete[route] == low.complete[route] ? a : b) = middle->value;
    }
    return Threshold{route, high.complete[route] ? b : a, high.complete[route]};
  }

  const project::Project& project_;
  SweepPlan plan_;
  Trials trials_;
  int made_ = 0;
};

/// The first place along a way at which a build has no ground, with the reason.
void findStop(const std::vector<Vec3>& way, const Built& built, Tightest& tightest) {
  constexpr double kStride = 0.05;  // m
  Explainer explainer;
  for (std::size_t i = 0; i + 1 < way.size(); ++i) {
    const int steps = std::max(1, static_cast<int>(glm::distance(way[i], way[i + 1]) / kStride));
    for (int k = 0; k <= steps; ++k) {
      const Vec3 p = glm::mix(way[i], way[i + 1], static_cast<double>(k) / steps);
      const ground::Explanation e = explainer.at(built, p);
      if (e.verdict == ground::Verdict::walkable) continue;
      tightest.at = e.at, tightest.sentence = e.sentence;
      return;
    }
  }
}

Result<Tightest> tightest(Trials& trials, double level::Agent::*field, double least, double most, const Vec3& from, const Vec3& to, int& made) {
  Tightest found;
  constexpr double kExpected = 24;  // builds, of both searches
  auto asked = [&](double value) { return trials.at(field, value, ++made / kExpected); };
  auto complete = [&](const mesh::NavMesh& m) { return trials.complete(m, from, to); };
  Built passing, stopped;
  auto top = asked(most);
  if (!top) return top.problem();
  if (complete((*top)->mesh)) return Tightest{most, true, {}, {}};
  stopped = *top;
  auto bottom = asked(least);
  if (!bottom) return bottom.problem();
  if (!complete((*bottom)->mesh)) return found;
  passing = *bottom;
  double low = least, high = most;
  while (high - low > kPassing) {
    // Small values first: most passages are narrow compared with what is tried.
    const double middle = high > 2 * low ? std::sqrt(low * high) : (low + high) / 2;
    auto built = asked(middle);
    if (!built) return built.problem();
    const bool passes = complete((*built)->mesh);
    (passes ? low : high) = middle;
    (passes ? passing : stopped) = *built;
  }
  found.most = low;
  const route::Field way(passing->mesh);
  route::Search search(way);
  findStop(route::findPath(way, search, from, to, {kReach, false, false}).points, stopped, found);
  return found;
}

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
  int made = 0;
  auto radius = tightest(trials, &level::Agent::radius, kLeastRadius, kMostRadius, from, to, made);
  if (!radius) return radius.problem();
  const double lowest = std::max(kLeastHeight, trials.agent().stepHeight + 0.01);
  auto height = tightest(trials, &level::Agent::height, lowest, kMostHeight, from, to, made);
  if (!height) return height.problem();
  return Passing{*radius, *height};
}

}  // namespace dune::pipeline
