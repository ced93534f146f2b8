#include "window/session/level_source.h"

#include <QFileInfo>
#include <algorithm>

#include "core/ground/chunk.h"
#include "core/ground/limits.h"

namespace dune::window {

namespace {
constexpr int kSettleMs = 300;  // without changes before a file is read again
}

LevelSource::LevelSource(const ProjectFile& file, Background& work, Bulletin& bulletin) : file_(file), work_(work), bulletin_(bulletin) {
  settle_.setSingleShot(true);
  settle_.setInterval(kSettleMs);
  connect(&watcher_, &QFileSystemWatcher::fileChanged, this, [this] { settle_.start(); });
  connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, &LevelSource::lookForFiles);
  connect(&settle_, &QTimer::timeout, this, &LevelSource::changedOnDisk);
}

bool LevelSource::wants(const project::Project& project) const {
  // What is drawn by hand needs a level of no files to lie in.
  const bool appeared = !level_ && !work_.busy() && !problem_ && pipeline::hasLevel(project), gone = level_ && !pipeline::hasLevel(project);
  return readFor_ != filesOf(project) || readMeshes_ != meshesOf(project) || appeared || gone;
}

std::vector<project::LevelFile> LevelSource::filesOf(const project::Project& project) const {
  std::vector<project::LevelFile> files = project.level->files;
  for (project::LevelFile& f : files) f.path = file_.fullPath(f);
  return files;
}

/// Mending needs no reading.
std::vector<project::GivenMesh> LevelSource::meshesOf(const project::Project& project) const {
  std::vector<project::GivenMesh> meshes = project.level->given;
  for (project::GivenMesh& g : meshes) g.path = file_.fullPath(g.path), g.mends.clear(), g.agent = 0;
  return meshes;
}

void LevelSource::drop() {
  level_.reset(), tree_.reset(), picture_.reset(), readFor_.reset(), problem_.reset(), readMeshes_.clear();
  news_ = {};
  bulletin_.add(Topic::level);
}

std::size_t LevelSource::bytes() const {
  if (!level_) return 0;
  std::size_t bytes = tree_->bytes();
  for (const level::Object& o : level_->level->objects)
    bytes += o.vertices.size() * sizeof(Vec3) + o.triangles.size() * sizeof(o.triangles[0]);
  return bytes;
}

void LevelSource::watch(const project::Project& project) {
  if (!watcher_.files().isEmpty()) watcher_.removePaths(watcher_.files());
  if (!watcher_.directories().isEmpty()) watcher_.removePaths(watcher_.directories());
  QStringList paths;
  for (const project::LevelFile& f : filesOf(project)) paths << QString::fromStdString(f.path);
  for (const project::GivenMesh& g : project.level->given) paths << QString::fromStdString(file_.fullPath(g.path));
  if (level_)
    for (const pipeline::LoadedFile& f : level_->files)
      for (const std::string& beside : f.level->besides) paths << QString::fromStdString(beside);
  watched_ = paths;
  QStringList folders;
  for (const QString& path : paths) folders << QFileInfo(path).path();
  folders.removeDuplicates();
  for (const QString& path : paths + folders)
    if (QFileInfo::exists(path)) watcher_.addPath(path);
}

/// A file that was deleted is not watched any more; when it is put back, its folder says so.
void LevelSource::lookForFiles() {
  for (const QString& path : watched_)
    if (!watcher_.files().contains(path) && QFileInfo::exists(path)) settle_.start();
}

LevelSource::Reading LevelSource::readNow(const project::Project& project, const std::string& file, std::size_t agent,
                                          const std::shared_ptr<const pipeline::LoadedLevel>& before, Job& job) {
  job.step("reading the level", 0.8);
  Reading reading{pipeline::loadLevel(project, file, job, before.get()), nullptr, nullptr, {}, {}, {}};
  if (!reading.loaded) return reading;
  job.step("preparing the view", 1);
  const auto& level = (*reading.loaded)->level;
  reading.tree = std::make_shared<const PickTree>(level, job);
  reading.picture = pictureOf(level, job);
  reading.bounds = level->bounds();
  for (const auto& mesh : level->given)
    for (const Vec3& p : mesh->corners) reading.bounds.add(p);
  const nav::Agent& kind = project.agents->agents[agent];
  const level::World world = pipeline::makeWorld(project, level, agent);
  if (const auto ahead = ground::Survey::lookAhead(world, ground::chunkSize(kind), ground::haloFor(world, kind), job))
    reading.ahead = *ahead;
  // What people themselves made another by reading it in another way is no news.
  const bool again = before && std::ranges::equal(before->files, (*reading.loaded)->files,
                                                  [](const auto& a, const auto& b) { return a.path == b.path && a.import == b.import; });
  if (again) reading.news = pipeline::levelNews(*before->level, *level);
  return reading;
}

void LevelSource::read(const project::Project& project, std::size_t agent) {
  readFor_ = filesOf(project), readMeshes_ = meshesOf(project);
  problem_.reset();
  watch(project);
  if (!pipeline::hasLevel(project)) {
    drop();
    readFor_.emplace();
    if (std::exchange(refused_, false)) bulletin_.say({});
    emit wasRead(false);
    return;
  }
  const auto known = offered_ ? std::exchange(offered_, nullptr) : level_;
  work_.start(this, [this, project, agent, file = file_.path().toStdString(), before = known](Job& job, const Background::Tell& tell) {
    tell([this, project, reading = readNow(project, file, agent, before, job)] { take(reading, project); });
  });
}

void LevelSource::take(const Reading& reading, const project::Project& project) {
  if (reading.loaded)
    accept(reading);
  else if (reading.loaded.problem().code != ProblemCode::cancelled)
    refuse(reading.loaded.problem(), project);
  watch(project);  // a file that was put in place of another is not watched any more
  bulletin_.add(Topic::level);
  emit wasRead(reading.loaded.ok());
}

void LevelSource::accept(const Reading& reading) {
  level_ = *reading.loaded, tree_ = reading.tree, picture_ = reading.picture, bounds_ = reading.bounds, ahead_ = reading.ahead;
  if (!reading.news.empty())
    news_ = reading.news, bulletin_.say(QString::fromStdString(news_.sentence()));
  else if (refused_)
    bulletin_.say(tr("The level can be read again."));
  refused_ = false;
}

/// A file that is caught half-written costs nothing; but the level of other files goes.
void LevelSource::refuse(const Problem& problem, const project::Project& project) {
  problem_ = problem, refused_ = true;
  const bool same = level_ &&
                    std::ranges::equal(level_->files, filesOf(project), {}, &pipeline::LoadedFile::path, &project::LevelFile::path) &&
                    std::ranges::equal(level_->given, meshesOf(project), {}, &pipeline::LoadedMesh::path, &project::GivenMesh::path);
  if (!same) level_.reset(), tree_.reset(), picture_.reset();
  bulletin_.say(QString::fromStdString(problem.text()));
}

}  // namespace dune::window
