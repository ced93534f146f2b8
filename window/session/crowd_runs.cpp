#include "window/session/crowd_runs.h"

#include <atomic>

#include "core/pipeline/recording.h"

namespace dune::window {

namespace {

using Run = std::shared_ptr<const pipeline::Run>;

/// Both runs of a scene; the second is null where there is nothing to compare with.
Result<std::pair<Run, Run>> runBoth(const project::Project& project, const pipeline::KindGrounds& grounds, std::size_t agent,
                                    const std::string& scene, Job& job, const pipeline::WatchRun& watch) {
  auto first = pipeline::runCrowd(project, grounds, agent, job, scene, std::nullopt, watch);
  if (!first) return first.problem();
  if (!project.crowd->other) return std::pair(*first, Run());
  auto second = pipeline::runCrowd(project, grounds, agent, job, scene, project.crowd->other, watch);
  if (!second) return second.problem();
  return std::pair(*first, *second);
}

}  // namespace

CrowdRuns::CrowdRuns(Background& work, Bulletin& bulletin) : work_(work), bulletin_(bulletin) {
  connect(&work_, &Background::progressed, this, [this] {
    if (live_ && !running()) live_.reset(), bulletin_.add(Topic::playback);
  });
}

void CrowdRuns::start(const project::Project& project, const pipeline::KindGrounds& grounds, std::size_t agent, const std::string& scene) {
  work_.start(this, [this, project, grounds, agent, scene](Job& job, const Background::Tell& tell) {
    // One picture at a time is on its way: a window that is slow to draw does not fall behind.
    const auto onItsWay = std::make_shared<std::atomic<bool>>(false);
    const auto watch = [this, &tell, onItsWay](const Run& standing) {
      if (onItsWay->exchange(true)) return;
      tell([this, standing, onItsWay] {
        live_ = standing, *onItsWay = false;
        bulletin_.add(Topic::playback);
      });
    };
    auto result = runBoth(project, grounds, agent, scene, job, watch);
    tell([this, result = std::move(result)] {
      if (result)
        last_ = result->first, other_ = result->second;
      else if (result.problem().code != ProblemCode::cancelled)
        bulletin_.say(QString::fromStdString(result.problem().text()));
      bulletin_.add(Topic::run);
      emit finished();
    });
  });
}

void CrowdRuns::open(const project::Project& project, std::shared_ptr<const pipeline::Ground> ground, const std::string& path) {
  work_.start(this, [this, project, ground = std::move(ground), path](Job& job, const Background::Tell& tell) {
    auto result = pipeline::openRecording(project, ground, path, job);
    tell([this, result = std::move(result)] {
      if (result)
        last_ = *result, other_.reset();
      else if (result.problem().code != ProblemCode::cancelled)
        bulletin_.say(QString::fromStdString(result.problem().text()));
      bulletin_.add(Topic::run);
      emit finished();
    });
  });
}

void CrowdRuns::drop() {
  last_.reset(), other_.reset();
  bulletin_.add(Topic::run);
}

}  // namespace dune::window
