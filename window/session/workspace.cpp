#include "window/session/workspace.h"

#include <QSettings>

#include "core/project/file.h"
#include "window/scene/coarse.h"

namespace dune::window {

namespace {

constexpr std::size_t kNoStep = static_cast<std::size_t>(-1);
constexpr const char* kPricesKey = "lastBuilds";  // on this machine
constexpr int kSettleMs = 300;                    // without changes before a file is read again

template <class T>
using Shared = std::shared_ptr<const T>;

}  // namespace

Workspace::Workspace(QObject* parent) : QObject(parent) {
  document_.onChange = [this] { afterChange(); };
  prices_ = BuildPrices::fromSettings(QSettings().value(kPricesKey).toStringList());
  settle_.setSingleShot(true);
  settle_.setInterval(kSettleMs);
  connect(&watcher_, &QFileSystemWatcher::fileChanged, this, [this] { settle_.start(); });
  connect(&settle_, &QTimer::timeout, this, &Workspace::readAgain);
  connect(&work_, &Background::progressed, this, [this](const QString& step, double fraction) {
    progress_ = fraction, step_ = step;
    emit workChanged();
  });
  connect(&trials_, &Trials::said, this, &Workspace::said);
}

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

/// Whatever is on its way is not wanted any more.
void Workspace::stopWork() {
  work_.stop(), comparing_.stop(), trials_.drop();
  building_ = running_ = false;
}

void Workspace::dropResults() {
  stopWork();
  level_.reset(), tree_.reset(), picture_.reset(), reference_.clear(), keptBuild_.clear(), known_.clear(), levelFindings_.clear();
  change_.reset(), run_.reset(), loadedFor_.reset(), compared_.reset();
  agent_ = 0, stepSeen_ = 0, scope_ = {}, news_ = {};
}

void Workspace::openLevel(const QString& path, bool beside) {
  const std::string stored = filePath_.isEmpty() ? path.toStdString() : project::storedPath(path.toStdString(), filePath_.toStdString());
  change(beside ? tr("Add level file") : tr("Open level"), [&](project::Project& p) {
    project::edit(p.level, [&](project::LevelSection& s) {
      if (!beside) s.files.clear();
      if (std::ranges::count(s.files, stored, &project::LevelFile::path) == 0) s.files.push_back({stored, level::importFor(stored)});
    });
  });
}

Shared<pipeline::Ground> Workspace::groundOf(std::size_t agent) const {
  const auto& agents = project().agents->agents;
  const auto found = agent < agents.size() ? known_.find(agents[agent].name) : known_.end();
  return found == known_.end() ? nullptr : found->second.answers.ground;
}

Workspace::Grounds Workspace::grounds() const {
  Grounds all;
  for (const auto& [name, known] : known_)
    if (known.answers.ground) all[name] = known.answers.ground;
  return all;
}

void Workspace::setAgent(std::size_t agent) {
  if (agent == agent_ || agent >= project().agents->agents.size()) return;
  agent_ = agent;
  if (compared_ == agent_) compared_.reset();
  askWhatIsNew();
  emit agentChanged();
  emit groundChanged();
  gatherFindings();
  compareBuilds();
}

std::size_t Workspace::levelBytes() const {
  if (!level_) return 0;
  std::size_t bytes = tree_->bytes();
  for (const level::Object& o : level_->level->objects)
    bytes += o.vertices.size() * sizeof(Vec3) + o.triangles.size() * sizeof(o.triangles[0]);
  return bytes;
}

Box3 Workspace::worldBounds() const {
  Box3 box;
  if (level_) box = levelBounds_;
  for (const level::Blocker& b : project().level->blockers)
    for (const Vec2& q : level::baseOf(b))
      box.add(lift(q, b.at.y)), box.add(lift(q, b.at.y + (b.shape == level::BlockerShape::floor ? 0 : b.size.y)));
  constexpr double kNothing = 10;  // metres each way
  if (box.empty()) box = {{-kNothing, 0, -kNothing}, {kNothing, 2, kNothing}};
  return box;
}

Shared<level::Level> Workspace::groundStandIn(std::size_t agent) const {
  const auto found = known_.find(project().agents->agents[agent].name);
  return found == known_.end() ? nullptr : found->second.standIn;
}

Shared<level::Level> Workspace::groundSketch(std::size_t agent) const {
  const auto found = known_.find(project().agents->agents[agent].name);
  return found == known_.end() ? nullptr : found->second.sketch;
}

bool Workspace::freshFor(std::size_t agent) const {
  const auto now = groundOf(agent);
  return now && level_ && now->source == level_->level && pipeline::holds(*now, project(), agent, scope_);
}

bool Workspace::allFresh() const {
  for (std::size_t i = 0; i < project().agents->agents.size(); ++i)
    if (!freshFor(i)) return false;
  return true;
}

bool Workspace::groundFresh() const { return freshFor(agent_); }
bool Workspace::runFresh() const { return run_ && run_->ground == ground() && groundFresh() && pipeline::sameCrowd(run_->from, project()); }

void Workspace::setScope(const generate::Scope& scope) {
  if (scope == scope_) return;
  scope_ = scope;
  if (autoBuild_ && level_ && !allFresh()) return build();
  emit groundChanged();
  emit workChanged();
}

void Workspace::setAutoBuild(bool on) {
  autoBuild_ = on;
  if (on && level_ && !allFresh()) build();
  emit workChanged();
}

void Workspace::afterChange() {
  agent_ = std::min(agent_, project().agents->agents.size() - 1);
  if (compared_ && (*compared_ == agent_ || *compared_ >= project().agents->agents.size())) compared_.reset();
  emit documentChanged();
  // What is drawn by hand needs a level of no files to lie in.
  const bool appeared = !level_ && !building_ && !levelProblem_ && pipeline::hasLevel(project()),
             gone = level_ && !pipeline::hasLevel(project());
  if (loadedFor_ != project().level->files || appeared || gone) return loadLevel();
  if (level_ && !allFresh() && autoBuild_) return build();
  askWhatIsNew();
  emit answersChanged();
}

void Workspace::readAgain() {
  if (pipeline::hasLevel(project())) loadLevel();
}

void Workspace::watch() {
  if (!watcher_.files().isEmpty()) watcher_.removePaths(watcher_.files());
  QStringList paths;
  for (const project::LevelFile& f : project().level->files)
    paths << QString::fromStdString(project::levelPath(f, filePath_.toStdString()));
  if (level_)
    for (const pipeline::LoadedFile& f : level_->files)
      for (const std::string& beside : f.level->besides) paths << QString::fromStdString(beside);
  if (!paths.isEmpty()) watcher_.addPaths(paths);
}

void Workspace::loadLevel() {
  loadedFor_ = project().level->files;
  levelProblem_.reset();
  watch();
  if (!pipeline::hasLevel(project())) {
    dropResults();
    loadedFor_.emplace();
    if (std::exchange(refused_, false)) emit said({});
    emit levelChanged();
    emit groundChanged();
    emit workChanged();
    gatherFindings();
    return;
  }
  const project::Project project = this->project();
  const std::string file = filePath_.toStdString();
  start(false, [this, project, file, agent = agent_, before = level_](Job& job, const Background::Tell& tell) {
    job.step("reading the level", 0.8);
    Reading reading{pipeline::loadLevel(project, file, job, before.get()), nullptr, nullptr, {}, {}, {}};
    if (reading.loaded) {
      job.step("preparing the view", 1);
      reading.tree = std::make_shared<const PickTree>((*reading.loaded)->level, job);
      reading.picture = pictureOf((*reading.loaded)->level, job);
      reading.bounds = (*reading.loaded)->level->bounds();
      const nav::Agent& kind = project.agents->agents[agent];
      const level::World world = pipeline::makeWorld(project, (*reading.loaded)->level, agent);
      if (const auto ahead = ground::Survey::lookAhead(world, ground::chunkSize(kind), ground::haloFor(world), job)) reading.ahead = *ahead;
      // What people themselves made another by reading it in another way is no news.
      const bool again = before && std::ranges::equal(before->files, (*reading.loaded)->files, [](const auto& a, const auto& b) {
                           return a.path == b.path && a.import == b.import;
                         });
      if (again) reading.news = pipeline::levelNews(*before->level, *(*reading.loaded)->level);
    }
    tell([this, reading = std::move(reading)] { takeLevel(reading); });
  });
}

void Workspace::takeLevel(const Reading& reading) {
  building_ = false;
  if (reading.loaded) {
    level_ = *reading.loaded, tree_ = reading.tree, picture_ = reading.picture, levelBounds_ = reading.bounds, ahead_ = reading.ahead;
    stepSeen_ = kNoStep;  // what the new level changes is compared with what was there before it
    if (!reading.news.empty())
      news_ = reading.news, emit said(QString::fromStdString(news_.sentence()));
    else if (refused_)
      emit said(tr("The level can be read again."));
    refused_ = false;
  } else if (reading.loaded.problem().code != ProblemCode::cancelled) {
    refuseLevel(reading.loaded.problem());
  }
  watch();  // a file that was put in place of another is not watched any more
  emit levelChanged();
  emit workChanged();
  if (reading.loaded)
    build();
  else
    gatherFindings();
}

/// The last level that could be read stays, so that a file caught half-written costs nothing; but not the level of other files.
void Workspace::refuseLevel(const Problem& problem) {
  levelProblem_ = problem, refused_ = true;
  const auto& wanted = project().level->files;
  const bool same = level_ && std::ranges::equal(level_->files, wanted, [&](const pipeline::LoadedFile& f, const project::LevelFile& w) {
                      return f.path == project::levelPath(w, filePath_.toStdString());
                    });
  if (!same) level_.reset(), known_.clear(), levelFindings_.clear(), emit groundChanged();
  emit said(QString::fromStdString(problem.text()));
}

void Workspace::start(bool crowd, Background::Work work) {
  building_ = !crowd, running_ = crowd;
  progress_ = 0;
  emit workChanged();
  work_.start(std::move(work));
}

void Workspace::build() {
  if (!level_) return;
  // A drag is one step of many builds: they are all compared with what was there before it.
  if (document_.stepCount() != stepSeen_) reference_ = grounds(), stepSeen_ = document_.stepCount();
  struct Wanted {
    std::size_t agent;
    Known before;
  };
  std::vector<Wanted> order;
  const auto& agents = project().agents->agents;
  for (std::size_t i = 0; i < agents.size(); ++i) order.push_back({i, known_[agents[i].name]});
  std::swap(order[0], order[agent_]);  // the one that is looked at first
  start(false, [this, project = project(), loaded = level_, order, scope = scope_](Job& job, const Background::Tell& tell) {
    tell([this, found = pipeline::levelFindings(project, *loaded)] { levelFindings_ = found; });
    Shared<pipeline::Ground> last;
    std::optional<Problem> problem;
    for (const auto& [agent, before] : order) {
      const auto& groundBefore = before.answers.ground;
      // Of another agent's ground at least what is known of the level can be taken over.
      auto ground = pipeline::makeGround(project, loaded->level, agent, groundBefore ? groundBefore : last, job, scope);
      if (!ground) {
        problem = ground.problem();
        break;
      }
      last = *ground;
      Known now{pipeline::ask(project, last, before.answers), before.standIn, before.sketch};
      if (last != groundBefore) {
        now.standIn = coarseGround(last->mesh, job);
        now.sketch = now.standIn ? coarserGround(*now.standIn, job) : nullptr;
      }
      tell([this, now] { takeKnown(now); });
    }
    tell([this, problem, project] {
      building_ = false;
      // The document can have come back to what the last ground was made from while this one was made from something else.
      if (!problem && autoBuild_ && !project.same(this->project()) && !allFresh()) return build();
      if (problem && problem->code != ProblemCode::cancelled) emit said(QString::fromStdString(problem->text()));
      emit workChanged();
      gatherFindings();
      compareBuilds();
    });
  });
}

void Workspace::takeKnown(const Known& now) {
  const std::string name = now.answers.ground->mesh.agent.name;
  const generate::Built& built = *now.answers.ground->built;
  if (built.chunksMade > 0) {
    prices_.learn(built.chunksMade, built.chunks.size(), built.survey->triangleCount(), built.seconds);
    QSettings().setValue(kPricesKey, prices_.toSettings());
  }
  known_[name] = now;
  emit groundChanged();
  if (name == agentKind().name) gatherFindings();
}

void Workspace::keepBuild() {
  keptBuild_ = grounds();
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

bool Workspace::acrossUnits() const {
  const auto now = ground(), before = comparedWith();
  return now && before && !pipeline::sameUnits(before->from, now->from);
}

void Workspace::compareBuilds() {
  const auto now = ground(), before = comparedWith();
  comparing_.stop();
  change_.reset();
  if (!now || !before || before == now || acrossUnits()) return emit changeChanged();
  comparing_.start([this, before, now, routes = project().routes](Job& job, const Background::Tell& tell) {
    auto result = pipeline::compare(before, now, *routes, job);
    if (!result) return;
    tell([this, change = *result] {
      change_ = change;
      emit changeChanged();
    });
  });
}

const pipeline::Answers& Workspace::answers() const {
  static const pipeline::Answers kNone;
  const auto found = known_.find(agentKind().name);
  return found == known_.end() ? kNone : found->second.answers;
}

void Workspace::askWhatIsNew() {
  const auto now = ground();
  if (!now) return;
  pipeline::Answers& known = known_[agentKind().name].answers;
  known = pipeline::ask(project(), now, known);
}

QString Workspace::price() const {
  if (!level_) return {};
  constexpr double kMiB = 1024 * 1024;
  double bytes = ahead_.bytes, part = 1;
  std::size_t squares = ahead_.chunks, triangles = level_->level->triangleCount();
  if (const auto last = ground()) {
    const ground::Survey& survey = *last->built->survey;
    bytes = survey.memoryEstimate(), triangles = survey.triangleCount(), squares = 0;
    for (const generate::ChunkRecord& chunk : last->built->chunks)
      squares += generate::looksAt(scope_, ground::chunkBox(chunk.id, survey.chunkSize()), chunk.mesh.get());
    if (!last->built->chunks.empty()) part = static_cast<double>(squares) / static_cast<double>(last->built->chunks.size());
  }
  QString text = squares == 1 ? tr("1 square, ") : tr("%1 squares, ").arg(squares);
  if (const auto seconds = prices_.seconds(static_cast<double>(squares), static_cast<double>(triangles) * part))
    text += *seconds < 0.1 ? tr("less than 0.1 s, ") : tr("about %1 s, ").arg(*seconds, 0, 'f', 1);
  return text + (bytes < kMiB ? tr("less than 1 MiB") : tr("%1 MiB").arg(bytes / kMiB, 0, 'f', 0));
}

void Workspace::trySweep(const pipeline::SweepPlan& plan) {
  if (level_) trials_.sweep(project(), level_->level, agent_, plan);
}

void Workspace::tryPassing(const Vec3& from, const Vec3& to) {
  if (level_) trials_.passing(project(), level_->level, agent_, from, to);
}

void Workspace::runCrowd() {
  const auto ground = this->ground();
  if (!ground || building_ || project().crowd->groups.empty()) return;
  const project::Project project = this->project();
  start(true, [this, project, ground, agent = agent_](Job& job, const Background::Tell& tell) {
    auto result = pipeline::runCrowd(project, ground, agent, job);
    tell([this, result = std::move(result)] {
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
  work_.stop();
  building_ = running_ = false;
  emit said(tr("Cancelled."));
  emit workChanged();
}

void Workspace::gatherFindings() {
  findings_ = levelFindings_;
  if (const auto now = ground()) findings_.insert(findings_.end(), now->findings.begin(), now->findings.end());
  if (run_) findings_.insert(findings_.end(), run_->findings.begin(), run_->findings.end());
  std::stable_sort(findings_.begin(), findings_.end(),
                   [](const review::Finding& a, const review::Finding& b) { return a.severity < b.severity; });
  emit findingsChanged();
}

}  // namespace dune::window
