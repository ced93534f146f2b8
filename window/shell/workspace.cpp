#include "window/shell/workspace.h"

#include <chrono>

#include "core/project/file.h"

namespace dune::window {

namespace {

constexpr std::size_t kAgent = 0;  // the kind of agent that is worked on
constexpr auto kReportEvery = std::chrono::milliseconds(40);

template <class T>
using Shared = std::shared_ptr<const T>;

}  // namespace

Workspace::Workspace(QObject* parent) : QObject(parent) {
  document_.onChange = [this] { afterChange(); };
}

Workspace::~Workspace() { ++generation_; }

void Workspace::change(const QString& label, const std::function<void(project::Project&)>& edit, const QString& mergeKey) {
  document_.change(label.toStdString(), edit, mergeKey.toStdString());
}

std::optional<Problem> Workspace::open(const QString& path) {
  auto project = project::load(path.toStdString());
  if (!project) return project.problem();
  filePath_ = path;
  level_.reset(), ground_.reset(), run_.reset(), loadedFor_.reset(), kept_.clear();
  document_.reset(*std::move(project));
  emit fileChanged();
  emit groundChanged();
  emit runChanged();
  return std::nullopt;
}

std::optional<Problem> Workspace::save(const QString& path) {
  project::Project saved = project();
  // A level's path is told from the project's folder; when the project moves, the path is told anew.
  if (!saved.level->file.empty()) {
    const std::string full = project::levelPath(saved, filePath_.toStdString());
    project::edit(saved.level, [&](project::LevelSection& s) { s.file = project::storedPath(full, path.toStdString()); });
  }
  if (const auto written = project::save(path.toStdString(), saved); !written) return written.problem();
  const bool moved = path != filePath_;
  filePath_ = path;
  if (moved && !(*saved.level == *project().level)) {
    loadedFor_ = *saved.level;
    change(tr("Save as"), [&](project::Project& p) { p.level = saved.level; });
  }
  document_.markSaved();
  emit fileChanged();
  return std::nullopt;
}

void Workspace::startNew() {
  filePath_.clear();
  level_.reset(), ground_.reset(), run_.reset(), loadedFor_.reset(), kept_.clear();
  document_.reset({});
  emit fileChanged();
  emit levelChanged();
  emit groundChanged();
  emit runChanged();
}

void Workspace::openLevel(const QString& path) {
  const std::string stored = filePath_.isEmpty() ? path.toStdString() : project::storedPath(path.toStdString(), filePath_.toStdString());
  change(tr("Open level"), [&](project::Project& p) { project::edit(p.level, [&](project::LevelSection& s) { s.file = stored; }); });
}

bool Workspace::groundFresh() const {
  return ground_ && pipeline::sameGround(ground_->from, project()) && pipeline::sameLinks(ground_->from, project());
}
bool Workspace::runFresh() const { return run_ && run_->ground == ground_ && groundFresh() && pipeline::sameCrowd(run_->from, project()); }

void Workspace::setAutoBuild(bool on) {
  autoBuild_ = on;
  if (on && level_ && !groundFresh()) build();
  emit workChanged();
}

void Workspace::afterChange() {
  emit documentChanged();
  const project::LevelSection& now = *project().level;
  const bool sameFile = loadedFor_ && loadedFor_->file == now.file && loadedFor_->import == now.import;
  if (!sameFile) return loadLevel();
  if (level_ && !groundFresh() && autoBuild_) return build();
  askKept();
}

void Workspace::loadLevel() {
  loadedFor_ = *project().level;
  levelProblem_.reset();
  if (project().level->file.empty()) {
    level_.reset(), ground_.reset(), run_.reset();
    emit levelChanged();
    emit groundChanged();
    gatherFindings();
    return;
  }
  const project::Project project = this->project();
  const std::string file = filePath_.toStdString();
  start(false, [this, project, file, generation = generation_ + 1](Job& job) {
    job.step("reading the level", 1);
    auto loaded = pipeline::loadLevel(project, file, job);
    QMetaObject::invokeMethod(this, [this, loaded = std::move(loaded), generation]() mutable {
      if (generation != generation_) return;
      building_ = false;
      if (loaded) {
        level_ = *loaded;
      } else {
        level_.reset(), ground_.reset();
        levelProblem_ = loaded.problem();
        emit groundChanged();
        emit said(QString::fromStdString(loaded.problem().text()));
      }
      emit levelChanged();
      emit workChanged();
      if (level_) build();
    });
  });
}

void Workspace::start(bool crowd, Work work) {
  // The old worker is asked to stop and let go: it answers to an older generation, and its answer is dropped.
  if (worker_.joinable()) {
    worker_.request_stop();
    worker_.join();  // every step of the core hears a stop within a few milliseconds
  }
  const int generation = ++generation_;
  building_ = !crowd, running_ = crowd;
  progress_ = 0;
  emit workChanged();
  worker_ = std::jthread([this, work = std::move(work), generation](const std::stop_token& stop) {
    auto last = std::chrono::steady_clock::now() - kReportEvery;
    std::mutex mutex;
    Job job(stop, [&](const std::string& step, double fraction) {
      const std::scoped_lock lock(mutex);
      const auto now = std::chrono::steady_clock::now();
      if (now - last < kReportEvery) return;
      last = now;
      QMetaObject::invokeMethod(this, [this, step, fraction, generation] {
        if (generation != generation_) return;
        progress_ = fraction, step_ = QString::fromStdString(step);
        emit workChanged();
      });
    });
    work(job);
  });
}

void Workspace::build() {
  if (!level_) return;
  const project::Project project = this->project();
  const auto level = level_->level;
  const auto before = ground_;
  start(false, [this, project, level, before, generation = generation_ + 1](Job& job) {
    auto result = pipeline::makeGround(project, level, kAgent, before, job);
    QMetaObject::invokeMethod(this, [this, result = std::move(result), generation]() mutable {
      if (generation == generation_) takeGround(result);
    });
  });
}

void Workspace::takeGround(const Result<Shared<pipeline::Ground>>& result) {
  building_ = false;
  if (result)
    ground_ = *result;
  else if (result.problem().code != ProblemCode::cancelled)
    emit said(QString::fromStdString(result.problem().text()));
  askKept();
  emit groundChanged();
  emit workChanged();
  gatherFindings();
}

void Workspace::askKept() {
  kept_.clear();
  if (!ground_) return;
  route::Search search(*ground_->field);
  for (const project::KeptRoute& r : project().routes->routes)
    kept_.push_back({r.id, route::findPath(*ground_->field, search, r.from, r.to, {2, false, true})});
}

void Workspace::runCrowd() {
  if (!ground_ || building_ || project().crowd->groups.empty()) return;
  const project::Project project = this->project();
  const auto ground = ground_;
  start(true, [this, project, ground, generation = generation_ + 1](Job& job) {
    auto result = pipeline::runCrowd(project, ground, kAgent, job);
    QMetaObject::invokeMethod(this, [this, result = std::move(result), generation]() mutable {
      if (generation != generation_) return;
      running_ = false;
      if (result)
        run_ = *result;
      else if (result.problem().code != ProblemCode::cancelled)
        emit said(QString::fromStdString(result.problem().text()));
      emit runChanged();
      emit workChanged();
      gatherFindings();
    });
  });
}

void Workspace::cancel() {
  if (!building_ && !running_) return;
  worker_.request_stop();
  ++generation_;
  building_ = running_ = false;
  emit said(tr("Cancelled."));
  emit workChanged();
}

void Workspace::gatherFindings() {
  findings_.clear();
  if (ground_) findings_ = pipeline::groundFindings(*ground_);
  if (run_) findings_.insert(findings_.end(), run_->findings.begin(), run_->findings.end());
  std::stable_sort(findings_.begin(), findings_.end(),
                   [](const review::Finding& a, const review::Finding& b) { return a.severity < b.severity; });
  emit findingsChanged();
}

}  // namespace dune::window
