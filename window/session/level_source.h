#pragma once
// The level as it was read: reading its files in the background, and again when they change on the disk.

#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>

#include "core/pipeline/level_review.h"
#include "window/scene/level_picture.h"
#include "window/scene/picking.h"
#include "window/session/background.h"
#include "window/session/bulletin.h"
#include "window/session/project_file.h"

namespace dune::window {

class LevelSource : public QObject {
  Q_OBJECT

 public:
  LevelSource(const ProjectFile& file, Background& work, Bulletin& bulletin);

  /// Reads the level of a project; what `agent` costs to build on it is looked at ahead. Files that did not change are taken over.
  void read(const project::Project& project, std::size_t agent);
  /// Whether the project's files are others than those that were read, or are being read, last.
  bool wants(const project::Project& project) const;
  /// Forgets everything; the next level is another one.
  /// Files that are read already, for the next reading to take over.
  void offer(std::shared_ptr<const pipeline::LoadedLevel> loaded) { offered_ = std::move(loaded); }
  void drop();
  bool reading() const { return work_.worksFor(this); }

  const std::shared_ptr<const pipeline::LoadedLevel>& level() const { return level_; }
  const std::shared_ptr<const PickTree>& tree() const { return tree_; }
  /// What is drawn for it.
  const std::shared_ptr<const LevelPicture>& picture() const { return picture_; }
  const Box3& bounds() const { return bounds_; }
  /// What a first build of all of it would look at.
  const ground::Survey::Ahead& ahead() const { return ahead_; }
  /// What was different when files were last read again; empty as long as nothing was.
  const pipeline::LevelNews& news() const { return news_; }
  /// Why the files that were wanted last could not be read.
  const std::optional<Problem>& problem() const { return problem_; }
  /// Bytes that the level takes here, with what it is picked by.
  std::size_t bytes() const;

 signals:
  void changedOnDisk();
  /// A level was read, or could not be: then the last one stays, unless it was that of other files.
  void wasRead(bool usable);

 private:
  void lookForFiles();
  struct Reading {
    Result<std::shared_ptr<const pipeline::LoadedLevel>> loaded;
    std::shared_ptr<const PickTree> tree;
    std::shared_ptr<const LevelPicture> picture;
    Box3 bounds;
    ground::Survey::Ahead ahead;
    pipeline::LevelNews news;  ///< against the level before
  };
  static Reading readNow(const project::Project& project, const std::string& file, std::size_t agent,
                         const std::shared_ptr<const pipeline::LoadedLevel>& before, Job& job);
  void take(const Reading& reading, const project::Project& project);
  void accept(const Reading& reading);
  void refuse(const Problem& problem, const project::Project& project);
  void watch(const project::Project& project);
  /// The project's files by their full paths, which stay when the project is saved elsewhere.
  std::vector<project::LevelFile> filesOf(const project::Project& project) const;
  std::vector<project::GivenMesh> meshesOf(const project::Project& project) const;

  const ProjectFile& file_;
  Background& work_;
  Bulletin& bulletin_;
  std::shared_ptr<const pipeline::LoadedLevel> level_;
  std::shared_ptr<const PickTree> tree_;
  std::shared_ptr<const LevelPicture> picture_;
  Box3 bounds_;
  ground::Survey::Ahead ahead_;
  pipeline::LevelNews news_;
  std::optional<Problem> problem_;
  bool refused_ = false;                                    // what was read last could not be used
  std::optional<std::vector<project::LevelFile>> readFor_;  // by full paths
  std::shared_ptr<const pipeline::LoadedLevel> offered_;
  std::vector<project::GivenMesh> readMeshes_;
  QFileSystemWatcher watcher_;
  QStringList watched_;
  QTimer settle_;  // programs write files in several goes
};

}  // namespace dune::window
