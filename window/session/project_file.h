#pragma once
// Where the open document is kept: opening, saving, starting anew, and hearing of it when another program writes the file.

#include <QFileSystemWatcher>
#include <QLockFile>
#include <QObject>
#include <QTimer>

#include "core/project/document.h"
#include "core/project/file.h"
#include "window/session/bulletin.h"

namespace dune::window {

class ProjectFile : public QObject {
  Q_OBJECT

 public:
  ProjectFile(project::Document& document, Bulletin& bulletin);

  /// Empty for a document that was never saved.
  const QString& path() const { return path_; }
  /// The document becomes that of a file that was read from there.
  void take(const QString& path, project::Project project);
  /// Paths of level files are told from the project's folder; when the project moves, they are told anew.
  std::optional<Problem> save(const QString& path);
  /// Of the file when it was read or written here last; see fileStamp().
  const std::string& stamp() const { return stamp_; }
  /// Whether another window has the same project open.
  bool openElsewhere() const { return lock_ && lock_->error() == QLockFile::LockFailedError; }
  /// Whether the file is not as it was read or written here last.
  bool changedElsewhere() const;
  /// A document that is not kept anywhere yet.
  void startNew() { take({}, {}); }
  /// How the document names a level file.
  std::string storedPath(const QString& file) const;
  /// Where a level file that the document names is.
  std::string fullPath(const std::string& stored) const { return project::levelPath(stored, path_.toStdString()); }
  std::string fullPath(const project::LevelFile& file) const { return fullPath(file.path); }

 private:
  /// From now on the file is this one, as it is now.
  void keepTo(const QString& path);
  void hold(const QString& path);
  void watch();
  void look();

  project::Document& document_;
  Bulletin& bulletin_;
  QString path_;
  std::string stamp_;                // of the file when it was read or written here
  std::unique_ptr<QLockFile> lock_;  // of the project, while it is open
  QFileSystemWatcher watcher_;
  QTimer settle_;  // programs write files in several goes
};

}  // namespace dune::window
