#include "window/shell/workspace.h"

#include <chrono>

#include "core/pipeline/level_review.h"
#include "core/project/file.h"

namespace dune::window {

namespace {

constexpr int kSettleMs = 300;  // without changes before a file is read again
constexpr auto kReportEvery = std::chrono::milliseconds(40);

template <class T>
using Shared = std::shared_ptr<const T>;

}  // namespace

Workspace::Workspace(QObject* parent) : QObject(parent) {
  document_.onChange = [this] { afterChange(); };
  settle_.setSingleShot(true);
  settle_.setInterval(kSettleMs);
  connect(&watcher_, &QFileSystemWatcher::fileChanged, this, [this] { settle_.start(); });
  connect(&settle_, &QTimer::timeout, this, &Workspace::readAgain);
}

Workspace::~Workspace() { ++generation_; }

void Workspace::change(const QString& label, const std::function<void(project::Project&)>& edit, const QString& mergeKey) {
  document_.change(label.toStdString(), edit, mergeKey.toStdString());
}

std::optional<Problem> Workspace::open(const QString& path) {
  auto project = project::load(path.toStdString());
  if (!project) return project.problem();
  filePath_ = path;
  dropResults();
  document_.reset(*std::move(project));
  emit fileChanged();
  emit groundChanged();
  emit runChanged();
  return std::nullopt;
}

std::optional<Problem> Workspace::save(const QString& path) {
  project::Project saved = project();
  // Paths of level files are told from the project's folder; when the project moves, they are told anew.
  project::edit(saved.level, [&](project::LevelSection& s) {
    for (project::LevelFile& f : s.files) f.path = project::storedPath(project::levelPath(f, filePath_.toStdString()), path.toStdString());
  });
  if (const auto written = project::save(path.toStdString(), saved); !written) return written.problem();
  const bool moved = path != filePath_;
  filePath_ = path;
  if (moved && !(*saved.level == *project().level)) {
    loadedFor_ = saved.level->files;
    change(tr("Save as"), [&](project::Project& p) { p.level = saved.level; });
  }
  document_.markSaved();
  emit fileChanged();
  return std::nullopt;
}

void Workspace::startNew() {
  filePath_.clear();
  dropResults();
  document_.reset({});
  emit fileChanged();
  emit levelChanged();
  emit groundChanged();
  emit runChanged();
}

void Workspace::dropResults() {
  level_.reset(), grounds_.clear(), reference_.clear(), keptBuild_.clear(), change_.reset(), run_.reset(), loadedFor_.reset(), kept_.clear();
  compared_.reset(), cards_.clear(), sweep_.reset(), passing_.reset();
  agent_ = 0, stepSeen_ = 0;
}

void Workspace::openLevel(const QString& path, bool beside) {
  const std::string stored = filePath_.isEmpty() ? path.toStdString() : project::storedPath(path.toStdString(), filePath_.toStdString());
  change(beside ? tr("Add level file") : tr("Open level"), [&](project::Project& p) {
    project::edit(p.level, [&](project::LevelSection& s) {
      if (!beside) s.files.clear();
      if (std::ranges::count(s.files, stored, &project::LevelFile::path) == 0) s.files.push_back({stored, {}});
    });
  });
}

Shared<pipeline::Ground> Workspace::groundOf(std::size_t agent) const {
  const auto& agents = project().agents->agents;
  const auto found = agent < agents.size() ? grounds_.find(agents[agent].name) : grounds_.end();
  return found == grounds_.end() ? nullptr : found->second;
}

void Workspace::setAgent(std::size_t agent) {
  if (agent == agent_ || agent >= project().agents->agents.size()) return;
  agent_ = agent;
  if (compared_ == agent_) compared_.reset();
  change_.reset();
  cards_.clear();
  askKept();
  askCards(false);
  emit agentChanged();
  emit groundChanged();
  gatherFindings();
  compareBuilds();
}

const Workspace::Shown& Workspace::shown() const {
  const auto section = project().level;
  const auto of = level_ ? level_->level : nullptr;
  if (shownFor_ == section && shownOf_ == of) return shown_;
  const bool sameBlockers = shownFor_ && shownOf_ == of && shownFor_->blockers == section->blockers;
  shownFor_ = section, shownOf_ = of;
  if (!of) return shown_ = {};
  shown_.own = of->objects.size();
  if (!sameBlockers) {
    std::vector<level::Blocker> all = section->blockers;
    for (level::Blocker& b : all) b.agents.clear();
    shown_.level = level::withBlockers(of, all, {});
  }
  shown_.roles.clear();
  for (std::size_t i = 0; i < shown_.own; ++i)
    shown_.roles.push_back(level::roleOf(shown_.level->objects[i].name, section->roles, section->rules));
  for (const level::Blocker& b : section->blockers) shown_.roles.push_back(b.role);
  return shown_;
}

bool Workspace::freshFor(std::size_t agent) const {
  const auto now = groundOf(agent);
  return now && level_ && now->source == level_->level && pipeline::holds(*now, project(), agent);
}

bool Workspace::allFresh() const {
  for (std::size_t i = 0; i < project().agents->agents.size(); ++i)
    if (!freshFor(i)) return false;
  return true;
}

bool Workspace::groundFresh() const { return freshFor(agent_); }
bool Workspace::runFresh() const { return run_ && run_->ground == ground() && groundFresh() && pipeline::sameCrowd(run_->from, project()); }

void Workspace::setAutoBuild(bool on) {
  autoBuild_ = on;
  if (on && level_ && !allFresh()) build();
  emit workChanged();
}

void Workspace::afterChange() {
  agent_ = std::min(agent_, project().agents->agents.size() - 1);
  if (compared_ && (*compared_ == agent_ || *compared_ >= project().agents->agents.size())) compared_.reset();
  // A drag is one step: it is compared with what was there before it.
  if (document_.stepCount() != stepSeen_) reference_ = grounds_, stepSeen_ = document_.stepCount();
  emit documentChanged();
  if (loadedFor_ != project().level->files) return loadLevel();
  if (level_ && !allFresh() && autoBuild_) return build();
  askKept();
  askCards(false);
  emit answersChanged();
}

void Workspace::readAgain() {
  if (level_) loadLevel();
}

void Workspace::watch() {
  if (!watcher_.files().isEmpty()) watcher_.removePaths(watcher_.files());
  QStringList paths;
  for (const project::LevelFile& f : project().level->files)
    paths << QString::fromStdString(project::levelPath(f, filePath_.toStdString()));
  if (!paths.isEmpty()) watcher_.addPaths(paths);
}

void Workspace::loadLevel() {
  loadedFor_ = project().level->files;
  levelProblem_.reset();
  watch();
  if (project().level->files.empty()) {
    level_.reset(), grounds_.clear(), run_.reset(), change_.reset();
    emit levelChanged();
    emit groundChanged();
    gatherFindings();
    return;
  }
  const project::Project project = this->project();
  const std::string file = filePath_.toStdString();
  start(false, [this, project, file, before = level_, generation = generation_ + 1](Job& job) {
    job.step("reading the level", 0.8);
    auto loaded = pipeline::loadLevel(project, file, job, before.get());
    job.step("preparing the view", 1);
    const auto tree = loaded ? std::make_shared<const PickTree>((*loaded)->level, job) : nullptr;
    QMetaObject::invokeMethod(this, [this, loaded = std::move(loaded), tree, generation]() mutable {
      if (generation == generation_) takeLevel(std::move(loaded), tree);
    });
  });
}

void Workspace::takeLevel(Result<Shared<pipeline::LoadedLevel>> loaded, Shared<PickTree> tree) {
  building_ = false;
  watch();  // a file that was put in place of another is not watched any more
  if (loaded) {
    const auto before = std::exchange(level_, *loaded);
    tree_ = std::move(tree);
    if (before) {
      reference_ = grounds_;
      const std::string news = pipeline::levelNews(*before->level, *level_->level);
      if (!news.empty()) emit said(QString::fromStdString(news));
    }
  } else if (loaded.problem().code != ProblemCode::cancelled) {
    // The last level that could be read stays, so that a file caught half-written costs nothing.
    levelProblem_ = loaded.problem();
    auto paths = [&](const auto& files) {
      std::vector<std::string> all;
      for (const auto& f : files) all.push_back(f.path);
      return all;
    };
    std::vector<std::string> wanted;
    for (const project::LevelFile& f : project().level->files) wanted.push_back(project::levelPath(f, filePath_.toStdString()));
    if (level_ && paths(level_->files) != wanted) level_.reset(), grounds_.clear(), emit groundChanged();
    emit said(QString::fromStdString(loaded.problem().text()));
  }
  emit levelChanged();
  emit workChanged();
  gatherFindings();
  if (level_ && loaded) build();
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
  // The one that is looked at first.
  std::vector<std::size_t> order{agent_};
  for (std::size_t i = 0; i < project.agents->agents.size(); ++i)
    if (i != agent_) order.push_back(i);
  std::vector<Shared<pipeline::Ground>> before;
  for (const std::size_t i : order) before.push_back(groundOf(i));
  start(false, [this, project, level, order, before, generation = generation_ + 1](Job& job) {
    std::optional<Problem> problem;
    for (std::size_t i = 0; i < order.size() && !problem; ++i) {
      auto result = pipeline::makeGround(project, level, order[i], before[i], job);
      if (!result) {
        problem = result.problem();
        break;
      }
      QMetaObject::invokeMethod(this, [this, ground = *std::move(result), generation] {
        if (generation == generation_) takeGround(ground);
      });
    }
    QMetaObject::invokeMethod(this, [this, problem, generation] {
      if (generation != generation_) return;
      building_ = false;
      if (problem && problem->code != ProblemCode::cancelled) emit said(QString::fromStdString(problem->text()));
      emit workChanged();
      gatherFindings();
      compareBuilds();
    });
  });
}

void Workspace::takeGround(Shared<pipeline::Ground> taken) {
  const std::string name = taken->mesh.agent.name;
  grounds_[name] = std::move(taken);
  if (name != agentKind().name) return emit groundChanged();
  askKept();
  askCards(true);
  emit groundChanged();
  gatherFindings();
}

void Workspace::keepBuild() {
  keptBuild_ = grounds_;
  compareBuilds();
}

void Workspace::forgetKept() {
  keptBuild_.clear();
  compareBuilds();
}

void Workspace::setCompared(std::optional<std::size_t> agent) {
  if (compared_ == agent) return;
  compared_ = agent;
  compareBuilds();
}

Shared<pipeline::Ground> Workspace::comparedWith() const {
  if (compared_) return groundOf(*compared_);
  const Grounds& against = keptBuild_.empty() ? reference_ : keptBuild_;
  const auto found = against.find(agentKind().name);
  return found == against.end() ? nullptr : found->second;
}

void Workspace::compareBuilds() {
  const auto now = ground(), before = comparedWith();
  if (comparer_.joinable()) comparer_.request_stop(), comparer_.join();
  change_.reset();
  const int comparing = ++comparingGeneration_;
  if (!now || !before || before == now) {
    return emit changeChanged();
  }
  comparer_ = std::jthread([this, before, now, generation = comparing](const std::stop_token& stop) {
    Job job(stop);
    auto result = pipeline::compare(before, now, job);
    if (!result) return;
    QMetaObject::invokeMethod(this, [this, generation, change = *result] {
      if (generation != comparingGeneration_) return;
      change_ = change;
      emit changeChanged();
    });
  });
}

void Workspace::askKept() {
  kept_.clear();
  const auto ground = this->ground();
  if (!ground) return;
  route::Search search(*ground->field);
  for (const project::KeptRoute& r : project().routes->routes)
    kept_.push_back({r.id, route::findPath(*ground->field, search, r.from, r.to, {2, false, true})});
}

void Workspace::askCards(bool rebuilt) {
  const auto ground = this->ground();
  std::vector<CardAnswer> answers;
  for (const project::Card& card : project().cards->cards) {
    if (!ground) break;
    const ground::Explanation e = explainer_.at(ground->built, card.at);
    CardAnswer answer{card.id, e.verdict == ground::Verdict::walkable, e.sentence, {}, {}};
    if (answer.walkable && !ground->locator().nearest(e.at, 0.1).valid()) {
      answer.walkable = false;
      answer.sentence = "Not walkable: on ground that no seed reaches.";
      answer.all.push_back({e.verdict, 0, 0, {}, "It is on ground that no seed reaches.", "a seed here, or a way from one"});
    } else if (!answer.walkable) {
      answer.all = explainer_.all(ground->built, card.at);
    }
    const auto old = std::ranges::find(cards_, card.id, &CardAnswer::id);
    if (old != cards_.end()) answer.before = !rebuilt ? old->before : old->sentence == answer.sentence ? "" : old->sentence;
    answers.push_back(std::move(answer));
  }
  cards_ = std::move(answers);
}

QString Workspace::price() const {
  const auto last = ground();
  if (!level_ || !last || last->built->chunks.empty()) return tr("an unknown time");
  // A build makes its chunks anew one by one; what it took for those of the last full one is the best guess for all.
  const double perChunk = last->built->seconds / std::max<double>(1, static_cast<double>(last->built->chunksMade));
  return tr("%1 s at most").arg(perChunk * static_cast<double>(last->built->chunks.size()), 0, 'f', 1);
}

void Workspace::startTrying(Work work) {
  if (trier_.joinable()) trier_.request_stop(), trier_.join();
  const int generation = ++tryingGeneration_;
  trying_ = true;
  tryingStep_.clear();
  emit triedChanged();
  trier_ = std::jthread([this, work = std::move(work), generation](const std::stop_token& stop) {
    Job job(stop, [this, generation](const std::string& step, double fraction) {
      QMetaObject::invokeMethod(this, [this, step, fraction, generation] {
        if (generation != tryingGeneration_) return;
        tryingStep_ = tr("%1 % (%2)").arg(std::lround(fraction * 100)).arg(QString::fromStdString(step));
        emit triedChanged();
      });
    });
    work(job);
  });
}

template <class Answer, class Target>
void Workspace::takeTried(const Result<Answer>& result, Target& target, int generation) {
  QMetaObject::invokeMethod(this, [this, result, &target, generation] {
    if (generation != tryingGeneration_) return;
    trying_ = false;
    if (result)
      target = *result;
    else if (result.problem().code != ProblemCode::cancelled)
      emit said(QString::fromStdString(result.problem().text()));
    emit triedChanged();
  });
}

void Workspace::trySweep(const pipeline::SweepPlan& plan) {
  if (!level_) return;
  startTrying([this, project = project(), level = level_->level, agent = agent_, plan, generation = tryingGeneration_ + 1](Job& job) {
    takeTried(pipeline::sweep(project, level, agent, plan, job), sweep_, generation);
  });
}

void Workspace::tryPassing(const Vec3& from, const Vec3& to) {
  if (!level_) return;
  startTrying([this, project = project(), level = level_->level, agent = agent_, from, to, generation = tryingGeneration_ + 1](Job& job) {
    takeTried(pipeline::widestPassing(project, level, agent, from, to, job), passing_, generation);
  });
}

void Workspace::cancelTrying() {
  if (!trying_) return;
  trier_.request_stop();
  ++tryingGeneration_;
  trying_ = false;
  emit said(tr("Cancelled."));
  emit triedChanged();
}

void Workspace::runCrowd() {
  const auto ground = this->ground();
  if (!ground || building_ || project().crowd->groups.empty()) return;
  const project::Project project = this->project();
  start(true, [this, project, ground, agent = agent_, generation = generation_ + 1](Job& job) {
    auto result = pipeline::runCrowd(project, ground, agent, job);
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
  if (level_) findings_ = pipeline::levelFindings(project(), *level_->level);
  if (const auto now = ground()) {
    const auto more = pipeline::groundFindings(*now);
    findings_.insert(findings_.end(), more.begin(), more.end());
  }
  if (run_) findings_.insert(findings_.end(), run_->findings.begin(), run_->findings.end());
  std::stable_sort(findings_.begin(), findings_.end(),
                   [](const review::Finding& a, const review::Finding& b) { return a.severity < b.severity; });
  emit findingsChanged();
}

}  // namespace dune::window
