#include "core/pipeline/crowd_run.h"

#include <algorithm>
#include <chrono>

#include "core/pipeline/reviewed_on.h"
#include "core/review/walls.h"

namespace dune::pipeline {

namespace {

using crowd::State;

constexpr std::size_t kKeepEvery = 60;     // frames between those at which the crowd is kept
constexpr std::size_t kMostKept = 50'000;  // bodies in all that are kept: with more, it is kept more seldom

/// How often a crowd is kept while it walks, so that going on from there is quick and memory stays bounded.
std::size_t keepEvery(std::size_t bodies, double seconds, double rate) {
  const double frames = seconds * rate,
               most = std::max(2.0, static_cast<double>(kMostKept) / static_cast<double>(std::max<std::size_t>(1, bodies)));
  return std::max(kKeepEvery, static_cast<std::size_t>(std::ceil(frames / most)));
}

/// The run as it stands, for who watches.
class Watched {
 public:
  Watched(const Run& run, const WatchRun& watch) : run_(run), watch_(watch) {}
  void show(const crowd::Crowd& crowd) {
    const auto now = std::chrono::steady_clock::now();
    if (!watch_ || now - last_ < kEvery) return;
    last_ = now;
    auto standing = std::make_shared<Run>();
    standing->from = run_.from, standing->scene = run_.scene, standing->ground = run_.ground, standing->grounds = run_.grounds;
    standing->meshOf = run_.meshOf, standing->obstacles = run_.obstacles;
    standing->trace = trace::asItIs(crowd);
    watch_(std::move(standing));
  }

 private:
  static constexpr auto kEvery = std::chrono::milliseconds(33);
  const Run& run_;
  const WatchRun& watch_;
  std::chrono::steady_clock::time_point last_{};
};

/// Gives the seconds of computing that it took.
Result<double> walk(Run& run, const CrowdScene& scene, double seconds, Job& job, const WatchRun& watch) {
  auto crowd = crowd::Crowd::make(scene.fields, scene.walkers, scene.options);
  if (!crowd) return crowd.problem();
  const std::size_t every = keepEvery(crowd->size(), seconds, scene.options.rate);
  Watched watched(run, watch);
  const auto keep = [&](std::size_t frame) {
    if (frame % every == 0) run.kept.push_back({frame, crowd->copy()});
    for (const crowd::BodyState& b : crowd->bodies()) run.trace.offPath.push_back(static_cast<float>(b.offPath));
    watched.show(crowd.value());
  };
  return recordTimed(crowd.value(), seconds, run.trace, job, keep);
}

}  // namespace

bool measureWalls(Run& run, Job& job) {
  std::vector<review::WallDistance> walls;
  for (const auto& ground : run.grounds) walls.emplace_back(ground->mesh);
  run.wallDistance.reserve(run.trace.sampleCount());
  const std::size_t bodies = run.trace.bodies().size();
  for (const auto& block : run.trace.blocks())
    for (std::size_t i = 0; i < block->at.size(); ++i) {
      if (run.wallDistance.size() % 4096 == 0 && job.cancelled()) return false;
      const trace::Block::Place& p = block->at[i];
      run.wallDistance.push_back(static_cast<float>(walls[run.meshOf[i % bodies]].at({p.x, p.y, p.z}, kFarFromWalls)));
    }
  return true;
}

Result<double> recordTimed(crowd::Crowd& crowd, double seconds, trace::Sink& sink, Job& job,
                           const std::function<void(std::size_t)>& afterFrame) {
  const auto begin = std::chrono::steady_clock::now();
  if (auto recorded = trace::record(crowd, seconds, sink, job, afterFrame); !recorded) return recorded.problem();
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - begin).count();
}

bool sameCrowd(const project::Project& a, const project::Project& b) { return a.crowd == b.crowd || *a.crowd == *b.crowd; }

crowd::Insight Run::insight(std::size_t frame, std::size_t body, Job& job) const {
  const auto after = std::ranges::upper_bound(kept, frame, {}, &Kept::frame);
  if (after == kept.begin()) return {};
  crowd::Crowd crowd = std::prev(after)->crowd.copy();
  for (std::size_t f = std::prev(after)->frame; f < frame; ++f)
    if (!crowd.step(job)) return {};
  return crowd.insight(body);
}

Result<std::shared_ptr<const Run>> runCrowd(const project::Project& project, const KindGrounds& grounds, std::size_t agent, Job& job,
                                            const std::string& scene, const std::optional<crowd::SteeringSettings>& instead,
                                            const WatchRun& watch, const review::MovementLimits& limits) {
  auto made = makeScene(project, grounds, agent, scene, instead);
  if (!made) return made.problem();
  auto run = std::make_shared<Run>();
  run->from = project, run->scene = scene, run->ground = grounds[agent], run->grounds = made->grounds;
  run->obstacles = made->options.obstacles;
  for (const crowd::Walker& w : made->walkers) run->meshOf.push_back(w.mesh);
  job.step("crowd", 0.8);
  const auto took = walk(*run, *made, project.crowd->seconds, job, watch);
  if (!took) return took.problem();
  job.step("review", 0.95);
  std::vector<review::Ground> reviewed;
  for (const auto& ground : run->grounds) reviewed.push_back(reviewedOn(*ground));
  auto findings = review::reviewMovement(reviewed, run->meshOf, run->trace, limits, job);
  if (!findings) return findings.problem();
  run->findings = *std::move(findings);
  run->findings.insert(run->findings.end(), made->findings.begin(), made->findings.end());
  run->figures = figuresOf(run->trace, run->findings, *took);
  job.step("distances", 1);
  if (!measureWalls(*run, job)) return Job::cancelledProblem();
  return std::shared_ptr<const Run>(std::move(run));
}

std::span<const Figure> figures() {
  using R = RunFigures;
  static constexpr Figure kFigures[] = {{"arrived", "", &R::arrived, 0, false},
                                        {"mean time", "s", &R::meanTime, 1, true},
                                        {"last arrival", "s", &R::lastTime, 1, true},
                                        {"standing", "s each", &R::standing, 1, false},
                                        {"walked", "m each", &R::length, 1, false},
                                        {"overlap", "m", &R::deepest, 2, false},
                                        {"trembling", "in 100 s", &R::trembling, 1, false},
                                        {"cost", "µs a step", &R::microseconds, 1, false}};
  return kFigures;
}

RunFigures figuresOf(const trace::Trace& trace, const std::vector<review::Finding>& findings, double secondsOfComputing) {
  RunFigures r;
  const std::size_t bodies = trace.bodies().size(), frames = trace.frameCount();
  double walked = 0, turns = 0;  // s, times
  for (std::size_t b = 0; b < bodies && frames > 1; ++b) {
    double arrived = -1;
    Vec2 before{0};
    Vec3 at = trace.at(0, b).at;
    for (std::size_t f = 1; f < frames; ++f) {
      const trace::Sample s = trace.at(f, b);
      const double dt = s.t - trace.timeOf(f - 1);
      const bool there = s.state == State::arrived;
      if (there && arrived < 0) arrived = s.t;
      if (!there) arrived = -1;
      const Vec2 v = plan(s.velocity);
      if (!there && glm::length(v) < 0.05 && s.state != State::waiting) r.standing += dt;
      if (glm::length(v) > 0.2) walked += dt, turns += glm::length(before) > 0.2 && glm::dot(v, before) < 0;
      before = v;
      r.length += glm::distance(plan(s.at), plan(at));
      at = s.at;
    }
    if (arrived >= 0) ++r.arrived, r.meanTime += arrived, r.lastTime = std::max(r.lastTime, arrived);
  }
  r.bodies = static_cast<double>(bodies);
  if (r.arrived > 0) r.meanTime /= r.arrived;
  if (bodies > 0) r.standing /= r.bodies, r.length /= r.bodies;
  if (walked > 0) r.trembling = turns / walked * 100;
  if (trace.sampleCount() > 0) r.microseconds = secondsOfComputing / static_cast<double>(trace.sampleCount()) * 1e6;
  for (const review::Finding& f : findings)
    if (f.code == "overlap") r.deepest = std::max(r.deepest, f.measured);
  return r;
}

}  // namespace dune::pipeline
