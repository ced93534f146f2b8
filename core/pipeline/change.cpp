#include "core/pipeline/change.h"

#include <algorithm>

#include "core/pipeline/answers.h"

namespace dune::pipeline {

namespace {

constexpr std::size_t kMostCauses = 60;  // places beyond are small, and asking takes time

/// Why there is no ground at a place of one build.
std::string causeAt(Explainer& explainer, const Ground& ground, const Vec3& at) {
  const ground::Explanation e = explainer.at(ground, at);
  constexpr double kSameHeight = 0.1;  // m
  if (std::abs(e.at.y - at.y) > kSameHeight) return "nothing to stand on at this height";
  return e.walkable() ? "" : e.decides.clause();
}

void addPlaces(Change& change, bool gained) {
  const Ground &has = gained ? *change.now : *change.before, &lacks = gained ? *change.before : *change.now;
  const double reach = 0.5 * std::min(has.mesh.agent.crouching().height, lacks.mesh.agent.crouching().height);
  Explainer explainer;
  for (pipeline::PatchGroup& group : pipeline::grouped(pipeline::groundBeyond(has.mesh, lacks.mesh, reach))) {
    (gained ? change.gained : change.lost) += group.area;
    std::string cause = change.places.size() < kMostCauses ? causeAt(explainer, lacks, group.at) : "";
    change.places.push_back({gained, std::move(group), std::move(cause)});
  }
}

void addRoutes(Change& change, const project::RoutesSection& routes) {
  route::Search before(*change.before->field), now(*change.now->field);
  const route::PathOptions options{.bound = false, .widths = false};
  for (const project::KeptRoute& r : routes.routes) {
    const auto then = route::findPath(*change.before->field, before, r.from, r.to, options),
               here = route::findPath(*change.now->field, now, r.from, r.to, options);
    if (std::string words = changeOf(then, here); !words.empty()) change.routes.push_back({r.id, std::move(words)});
  }
}

}  // namespace

bool sameUnits(const project::Project& a, const project::Project& b) {
  return std::ranges::none_of(a.level->files, [&](const project::LevelFile& f) {
    const auto other = std::ranges::find(b.level->files, f.path, &project::LevelFile::path);
    if (other == b.level->files.end()) return false;
    const level::ImportOptions &x = f.import, &y = other->import;
    return x.up != y.up || x.scale != y.scale || x.spacing != y.spacing;
  });
}

Result<std::shared_ptr<const Change>> compare(std::shared_ptr<const Ground> before, std::shared_ptr<const Ground> now,
                                              const project::RoutesSection& routes, Job& job) {
  auto change = std::make_shared<Change>();
  change->before = std::move(before), change->now = std::move(now);
  if (change->before->built != change->now->built) {
    addPlaces(*change, true);
    if (job.cancelled()) return Job::cancelledProblem();
    addPlaces(*change, false);
    if (job.cancelled()) return Job::cancelledProblem();
    std::stable_sort(change->places.begin(), change->places.end(),
                     [](const ChangedPlace& a, const ChangedPlace& b) { return a.ground.area > b.ground.area; });
  }
  addRoutes(*change, routes);
  return std::shared_ptr<const Change>(std::move(change));
}

}  // namespace dune::pipeline
