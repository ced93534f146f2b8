#include "window/session/workspace.h"

#include <algorithm>

#include "core/meshes/given_project.h"
#include "core/pipeline/mend.h"

namespace dune::window {

Workspace::Workspace(QObject* parent) : QObject(parent), seen_(document_.project()) {
  document_.onChange = [this] { afterChange(); };
  connect(&bulletin_, &Bulletin::issued, this, [this](Topics changed) {
    if (changed & (kDocument | Topic::file)) unsaved_.look();
  });
  connect(&work_, &Background::progressed, this, [this] { bulletin_.add(Topic::work); });
  connect(&source_, &LevelSource::changedOnDisk, this, &Workspace::readAgain);
  connect(&source_, &LevelSource::wasRead, this, &Workspace::afterReading);
  connect(&grounds_, &Grounds::made, this, [this](int kind) {
    if (kind == agentKind().id) gatherFindings();
  });
  connect(&grounds_, &Grounds::explained, this, &Workspace::gatherFindings);
  connect(&airs_, &Airs::findingsChanged, this, &Workspace::gatherFindings);
  connect(&grounds_, &Grounds::finished, this, &Workspace::afterBuild);
  connect(&crowd_, &CrowdRuns::finished, this, [this] {
    // Not where it came to nothing; and what is of another scene or recording is not held against it.
    const auto& before = playback_.run();
    if (run() != before && !crowd_.compared()) {
      if (run() && before && run()->scene == before->scene && run()->recording == before->recording)
        findings_.beginRun();
      else
        findings_.forgetRunBefore();
    }
    playback_.setRun(run(), crowd_.other());
    gatherFindings();
  });
  connect(&crowd_, &CrowdRuns::turned, this, [this] {
    if (run() != playback_.run()) findings_.forgetRunBefore();
    playback_.setRun(run(), crowd_.other());
    gatherFindings();
  });
}

void Workspace::change(const QString& label, const std::function<void(project::Project&)>& edit, const QString& mergeKey) {
  document_.change(label.toStdString(), edit, mergeKey.toStdString());
}

std::optional<Problem> Workspace::open(const QString& path) {
  auto project = project::load(path.toStdString());
  if (!project) return project.problem();  // what is there stays
  dropResults();
  file_.take(path, *std::move(project));
  return std::nullopt;
}

std::optional<Problem> Workspace::goOnWith(const QString& left) {
  auto unsaved = UnsavedWork::read(left);
  if (!unsaved) return unsaved.problem();
  project::Unsaved work = *std::move(unsaved);
  dropResults();
  if (auto saved = project::load(work.file); !work.file.empty() && saved) {
    file_.take(QString::fromStdString(work.file), *std::move(saved));
  } else {
    // Its file is gone: saving asks where, and level files are told whole.
    project::edit(work.project.level, [&](project::LevelSection& s) {
      project::changePaths(s, [&](const std::string& path) { return project::levelPath(path, work.file); });
    });
    file_.take({}, {});
  }
  change(tr("Work that was not saved"), [&](project::Project& p) { p = work.project; });
  unsaved_.takeOver(left);
  return std::nullopt;
}

void Workspace::take(project::Project project) {
  dropResults();
  file_.take({}, std::move(project));
}

void Workspace::dropResults() {
  airs_.drop();
  ++projectNumber_;
  work_.stop(), trials_.drop(), comparison_.drop();
  source_.drop(), grounds_.drop(), crowd_.drop();
  playback_.setRun(nullptr, nullptr);
  findings_.beginAnew();
  selection_.drop();
  agent_ = 0;
  scene_.clear(), sceneIsNew_ = false;
  gatherFindings();
}

void Workspace::openLevel(const QString& path, bool beside) {
  const std::string stored = file_.storedPath(path);
  change(beside ? tr("Add level file") : tr("Open level"), [&](project::Project& p) {
    project::edit(p.level, [&](project::LevelSection& s) {
      if (!beside) s.files.clear();
      if (std::ranges::count(s.files, stored, &project::LevelFile::path) == 0) s.files.push_back({stored, level::importFor(stored)});
    });
  });
}

void Workspace::openMesh(const QString& path) {
  work_.start(this, [this, path = path.toStdString(), stored = file_.storedPath(path), from = project(), file = file_.path().toStdString(),
                     before = level()](Job& job, const Background::Tell& tell) {
    job.step("reading the mesh", 1);
    auto taken = meshes::withGivenMesh(from, path, stored, {});
    const auto loaded = taken ? pipeline::loadLevel(*taken, file, job, before.get())
                              : Result<std::shared_ptr<const pipeline::LoadedLevel>>(taken.problem());
    if (!loaded) taken = loaded.problem();
    tell([this, from, taken, loaded] {
      if (loaded) source_.offer(*loaded);
      changeFrom(from, tr("Open mesh"), taken);
    });
  });
}

void Workspace::changeFrom(const project::Project& from, const QString& label, Result<project::Project> changed) {
  if (!changed)
    bulletin_.say(QString::fromStdString(changed.problem().text()));
  else if (!project().same(from))
    bulletin_.say(tr("The project has changed meanwhile: nothing was done."));
  else if (!changed->same(from))
    return change(label, [&](project::Project& p) { p = std::move(changed.value()); });
  afterChange();  // what this took the place of goes on
}

void Workspace::giveMeshUp() {
  change(tr("Build from the level"),
         [](project::Project& p) { project::edit(p.level, [](project::LevelSection& s) { s.given.clear(); }); });
}

void Workspace::mendAll(const std::string& code, const QString& label) {
  if (!level()) return;
  const auto counts = std::make_shared<pipeline::MendedAll>();
  changeInBackground(
      label,
      [counts, code, from = project(), level = level()->level, agent = agent_](Job& job) -> Result<project::Project> {
        auto mended = pipeline::mendAll(from, level, agent, code, job);
        if (!mended) return mended.problem();
        *counts = *std::move(mended);
        return counts->project;
      },
      [this, counts] {
        bulletin_.say(counts->left == 0 ? tr("%1 mended.").arg(counts->done)
                                        : tr("%1 mended, %2 left.").arg(counts->done).arg(counts->left));
      });
}

void Workspace::changeInBackground(const QString& label, const std::function<Result<project::Project>(Job&)>& make,
                                   const std::function<void()>& then) {
  work_.start(this, [this, label, make, then, from = project()](Job& job, const Background::Tell& tell) {
    job.step(label.toLower().toStdString(), 1);
    const auto changed = make(job);
    tell([this, label, then, from, changed] {
      changeFrom(from, label, changed);
      if (changed && project().same(*changed) && then) then();
    });
  });
}

void Workspace::readAgain() {
  if (pipeline::hasLevel(project())) source_.read(project(), agent_);
}

void Workspace::setAgent(std::size_t agent) {
  if (agent == agent_ || agent >= project().agents->agents.size()) return;
  agent_ = agent;
  if (comparison_.other() == agentKind().id) comparison_.setOther(std::nullopt);
  askAgain();
  bulletin_.add({Topic::agent, Topic::ground});
  compare();
}

std::string Workspace::scene() const {
  const auto scenes = project::scenesOf(*project().crowd);
  const bool known = std::ranges::find(scenes, scene_) != scenes.end();
  return known || sceneIsNew_ ? scene_ : scenes.front();
}

void Workspace::setScene(const std::string& scene) {
  if (scene == this->scene()) return;
  const auto scenes = project::scenesOf(*project().crowd);
  scene_ = scene, sceneIsNew_ = std::ranges::find(scenes, scene) == scenes.end();
  bulletin_.add(Topic::crowd);
}

bool Workspace::runFresh() const {
  return run() && (!run()->recording.empty() || run()->scene == scene()) &&
         crowd_.last().fresh({project(), agent_, grounds_.scope(), level() ? level()->level : nullptr, ground()});
}

Box3 Workspace::worldBounds() const {
  Box3 box;
  if (level()) box = source_.bounds();
  for (const level::Blocker& b : project().level->blockers)
    for (const Vec2& q : level::baseOf(b))
      box.add(lift(q, b.at.y)), box.add(lift(q, b.at.y + (b.shape == level::BlockerShape::floor ? 0 : b.size.y)));
  constexpr double kNothing = 10;  // metres each way
  if (box.empty()) box = {{-kNothing, 0, -kNothing}, {kNothing, 2, kNothing}};
  return box;
}

QString Workspace::price() const { return level() ? grounds_.price(agentKind().id, *level(), source_.ahead()) : QString(); }

void Workspace::setScope(const generate::Scope& scope) {
  if (scope == grounds_.scope()) return;
  grounds_.setScope(scope);
  bulletin_.add(Topic::ground);
  if (autoBuild_ && level() && !allFresh()) build();
}

void Workspace::setAutoBuild(bool on) {
  autoBuild_ = on;
  bulletin_.add(Topic::work);
  if (on && level() && !allFresh()) build();
}

void Workspace::wantAir(int flyer) {
  if (level()) airs_.want(project(), level()->level, flyer);
}

void Workspace::afterChange() {
  const auto& agents = project().agents->agents;
  agent_ = std::min(agent_, agents.size() - 1);
  const auto other = comparison_.other();
  if (other && (*other == agentKind().id || std::ranges::count(agents, *other, &project::AgentKind::id) == 0))
    comparison_.setOther(std::nullopt);
  grounds_.keepOnly(*project().agents);
  bulletin_.add(differences(seen_, project()) | Topic::file);
  seen_ = project();
  if (source_.wants(project())) return source_.read(project(), agent_);
  if (level() && !allFresh() && (autoBuild_ || onlyToLay())) return build();
  askAgain();
}

bool Workspace::onlyToLay() const {
  const auto& agents = project().agents->agents;
  for (std::size_t i = 0; i < agents.size(); ++i) {
    const auto ground = grounds_.of(agents[i].id);
    if (!ground) return false;
    project::Project asLaid = project();
    asLaid.hand = ground->from.hand;
    if (!grounds_.fresh(asLaid, i, level())) return false;
  }
  return true;
}

void Workspace::afterReading(bool usable) {
  if (usable) {
    comparison_.forgetStep();
    return build();
  }
  if (!level()) grounds_.drop();
  if (!level() && !pipeline::hasLevel(project())) {  // nothing is left that anything was made from
    work_.stop(), trials_.drop(), comparison_.drop(), crowd_.drop();
    playback_.setRun(nullptr, nullptr);
  }
  gatherFindings();
}

void Workspace::build() {
  if (!level()) return;
  comparison_.beginStep(document_.stepCount(), grounds_);
  grounds_.build(project(), level(), agent_);
}

void Workspace::afterBuild(bool allMade) {
  // The document can have come back to what the last ground was made from while this one was made from something else.
  if (allMade && !allFresh() && (autoBuild_ || onlyToLay())) return build();
  gatherFindings();
  compare();
  // Movement that was recorded is what it was, but the ground under it is another one.
  if (allMade && ground() && run() && !run()->recording.empty() && !runFresh())
    crowd_.open(project(), ground(), run()->recording, run()->reading);
}

void Workspace::compare() { comparison_.update(grounds_, agentKind().id, project()); }

void Workspace::compareWith(std::optional<int> kind) {
  if (comparison_.other() == kind) return;
  comparison_.setOther(kind);
  compare();
}

void Workspace::keepBuild() {
  comparison_.keep(grounds_);
  compare();
}

void Workspace::forgetKept() {
  comparison_.forgetKept();
  compare();
}

void Workspace::trySweep(const pipeline::SweepPlan& plan) {
  if (level()) trials_.sweep(project(), level()->level, agent_, plan);
}

void Workspace::tryPassing(const Vec3& from, const Vec3& to) {
  if (level()) trials_.passing(project(), level()->level, agent_, from, to);
}

void Workspace::runCrowd() {
  if (!ground() || building() || project().crowd->groups.empty()) return;
  pipeline::KindGrounds grounds;
  for (const project::AgentKind& kind : project().agents->agents) grounds.push_back(grounds_.of(kind.id));
  crowd_.start(project(), grounds, agent_, scene());
}

void Workspace::openRecording(const QString& path, const trace::Reading& reading) {
  if (!ground()) return bulletin_.say(tr("There is no ground yet on which a recording could be looked at: build it first."));
  if (building()) return bulletin_.say(tr("The ground is being built: open the recording when it is done."));
  crowd_.open(project(), ground(), path.toStdString(), reading);
}

void Workspace::showRun(const std::shared_ptr<const pipeline::Run>& run) {
  if (!run->recording.empty() && ground() && run->ground != ground() && !building())
    return crowd_.open(project(), ground(), run->recording, run->reading);
  crowd_.show(run);
}

void Workspace::cancel() {
  if (!work_.busy()) return;
  work_.stop();
  bulletin_.say(tr("Cancelled."));
}

void Workspace::gatherFindings() {
  static const std::vector<review::Finding> kNone;
  const auto now = ground();
  std::vector<pipeline::KeptAnswer> kept;
  for (const project::KeptRoute& r : project().routes->routes)
    if (const pipeline::KeptAnswer* answer = keptAnswer(r)) kept.push_back(*answer);
  const auto ofRoutes = pipeline::routeFindings(project(), kept);
  const auto ofAir = level() ? airs_.findings(project(), *level()->level) : kNone;
  findings_.gather({&grounds_.levelFindings(), now ? &now->findings : &kNone, &ofRoutes, &ofAir, run() ? &run()->findings : &kNone},
                   project(), crowd_.compared() ? &crowd_.compared()->findings : nullptr);
}

void Workspace::askAgain() {
  grounds_.askAgain(project());
  gatherFindings();
}

const pipeline::KeptAnswer* Workspace::keptAnswer(const project::KeptRoute& route) const {
  const int kind = route.agent != 0 ? route.agent : agentKind().id;
  if (!grounds_.of(kind)) return nullptr;
  const auto& answers = grounds_.answers(kind).routes;
  const auto found = std::ranges::find(answers, route.id, &pipeline::KeptAnswer::id);
  return found == answers.end() ? nullptr : &*found;
}

}  // namespace dune::window
