#include "window/session/crowd_runs.h"

#include <QFileInfo>
#include <algorithm>
#include <atomic>

#include "core/pipeline/recording.h"

namespace dune::window {

namespace {

using Run = std::shared_ptr<const pipeline::Run>;

/// Both runs of a scene; the second is null where there is nothing to compare with.
Result<CrowdRuns::Runs> runBoth(const project::Project& project, const pipeline::KindGrounds& grounds, std::size_t agent,
                                const std::string& scene, Job& job, const pipeline::WatchRun& watch) {
  auto first = pipeline::runCrowd(project, grounds, agent, job, scene, std::nullopt, watch);
  if (!first) return first.problem();
  if (!project.crowd->other) return CrowdRuns::Runs(*first, nullptr);
  auto second = pipeline::runCrowd(project, grounds, agent, job, scene, project.crowd->other, watch);
  if (!second) return second.problem();
  return CrowdRuns::Runs(*first, *second);
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
    tell([this, result = std::move(result)] { take(result); });
  });
}

void CrowdRuns::open(const project::Project& project, std::shared_ptr<const pipeline::Ground> ground, const std::string& path,
                     const trace::Reading& reading) {
  work_.start(this, [this, project, ground = std::move(ground), path, reading](Job& job, const Background::Tell& tell) {
    auto read = pipeline::openRecording(project, ground, path, job, reading);
    auto result = read ? Result<Runs>(Runs(*read, nullptr)) : Result<Runs>(read.problem());
    tell([this, result = std::move(result)] { take(result); });
  });
}

void CrowdRuns::take(const Result<Runs>& result) {
  if (result)
    last_ = result->first, other_ = result->second, keep(result->first);
  else if (result.problem().code != ProblemCode::cancelled)
    bulletin_.say(QString::fromStdString(result.problem().text()));
  bulletin_.add(Topic::run);
  emit finished();
}

/// A recording that is read again takes the place of what it was.
void CrowdRuns::keep(const Run& run) {
  constexpr std::ptrdiff_t kMostWalked = 3;  // runs of the crowd
  const auto walked = [](const Kept& k) { return k.run->recording.empty(); };
  const auto same = std::ranges::find_if(kept_, [&](const Kept& k) { return !walked(k) && k.run->recording == run->recording; });
  if (same != kept_.end()) {
    if (compared_ == same->run) compared_ = nullptr;
    same->run = run;
    return;
  }
  QString name = QFileInfo(QString::fromStdString(run->recording)).fileName();
  if (run->recording.empty())
    name = run->scene.empty() ? tr("Run %1 of the crowd").arg(++walked_)
                              : tr("Run %1 of %2").arg(++walked_).arg(QString::fromStdString(run->scene));
  kept_.push_back({run, name});
  // The one that is looked at beside the last one stays.
  const auto oldest = std::ranges::find_if(kept_, [&](const Kept& k) { return walked(k) && k.run != compared_; });
  if (std::ranges::count_if(kept_, walked) > kMostWalked && oldest != kept_.end()) kept_.erase(oldest);
}

QString CrowdRuns::nameOf(const pipeline::Run& run) const {
  const auto found = std::ranges::find(kept_, &run, [](const Kept& k) { return k.run.get(); });
  return found == kept_.end() ? QString() : found->name;
}

void CrowdRuns::show(const Run& run) {
  if (run == last_.value()) return;
  last_ = run, other_ = nullptr;
  if (compared_ == run) compared_ = nullptr;
  bulletin_.add(Topic::run);
  emit turned();
}

void CrowdRuns::compareWith(Run run) {
  compared_ = run == last_.value() ? nullptr : std::move(run);
  bulletin_.add(Topic::run);
  emit turned();
}

void CrowdRuns::drop() {
  last_.reset(), other_.reset(), compared_.reset();
  kept_.clear(), walked_ = 0;
  bulletin_.add(Topic::run);
}

}  // namespace dune::window
