#include "window/session/project_file.h"

#include <QCryptographicHash>
#include <QFileInfo>

#include "core/base/file.h"
#include "window/session/state_folder.h"

namespace dune::window {

namespace {
constexpr int kFileSettlesMs = 300;
}

ProjectFile::ProjectFile(project::Document& document, Bulletin& bulletin) : document_(document), bulletin_(bulletin) {
  settle_.setSingleShot(true);
  settle_.setInterval(kFileSettlesMs);
  connect(&watcher_, &QFileSystemWatcher::fileChanged, this, [this] { settle_.start(); });
  connect(&settle_, &QTimer::timeout, this, &ProjectFile::look);
}

void ProjectFile::keepTo(const QString& path) {
  if (path != path_) hold(path);
  path_ = path;
  stamp_ = path.isEmpty() ? std::string() : fileStamp(path.toStdString());
  watch();
}

/// Windows know of each other by a lock beside what they keep for themselves, which ends with its process.
void ProjectFile::hold(const QString& path) {
  lock_.reset();
  if (path.isEmpty()) return;
  const QByteArray name = QCryptographicHash::hash(QFileInfo(path).absoluteFilePath().toUtf8(), QCryptographicHash::Sha1).toHex();
  lock_ = processLock(stateFolder(QStringLiteral("open/")) + QString::fromLatin1(name));
  lock_->tryLock(0);
  if (openElsewhere())
    bulletin_.say(tr("%1 is open in another window too: what is saved there is not seen here until it is opened again.")
                      .arg(QFileInfo(path).fileName()));
}

void ProjectFile::watch() {
  if (!watcher_.files().isEmpty()) watcher_.removePaths(watcher_.files());
  if (!path_.isEmpty()) watcher_.addPath(path_);
}

/// What was written here is no news.
void ProjectFile::look() {
  if (path_.isEmpty() || fileStamp(path_.toStdString()) == stamp_) return;
  watch();  // a file that was put in place of another is not watched any more
  bulletin_.say(tr("Another program wrote the project file: opening it again takes that over, saving puts this one in its place."));
}

bool ProjectFile::changedElsewhere() const {
  if (path_.isEmpty()) return false;
  const std::string now = fileStamp(path_.toStdString());
  return !now.empty() && now != stamp_;
}

void ProjectFile::take(const QString& path, project::Project project) {
  keepTo(path);
  document_.reset(std::move(project));
  bulletin_.add(Topic::file);
}

std::optional<Problem> ProjectFile::save(const QString& path) {
  project::Project saved = document_.project();
  const auto fromThere = [from = path_.toStdString(), to = path.toStdString()](project::LevelSection& s) {
    project::changePaths(s, [&](const std::string& file) { return project::storedPath(project::levelPath(file, from), to); });
  };
  project::edit(saved.level, fromThere);
  if (const auto written = project::save(path.toStdString(), saved); !written) return written.problem();
  const bool moved = path != path_;
  keepTo(path);
  if (moved) document_.retell(fromThere);
  document_.markSaved();
  bulletin_.add(Topic::file);
  return std::nullopt;
}

std::string ProjectFile::storedPath(const QString& file) const {
  return path_.isEmpty() ? file.toStdString() : project::storedPath(file.toStdString(), path_.toStdString());
}

}  // namespace dune::window
