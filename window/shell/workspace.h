#pragma once
// The open project, its results, and the work that makes them. Views listen to its signals and never start work themselves.
//
// Work runs on threads of its own with a copy of the document; the newest request wins, answers come by queued calls.

#include <QObject>
#include <memory>
#include <optional>
#include <thread>

#include "core/pipeline/ground.h"
#include "core/project/document.h"

namespace dune::window {

class Workspace : public QObject {
  Q_OBJECT

 public:
  explicit Workspace(QObject* parent = nullptr);
  ~Workspace() override;

  project::Document& document() { return document_; }
  const project::Project& project() const { return document_.project(); }
  void change(const QString& label, const std::function<void(project::Project&)>& edit, const QString& mergeKey = {});

  const QString& filePath() const { return filePath_; }
  std::optional<Problem> open(const QString& path);
  std::optional<Problem> save(const QString& path);
  void startNew();
  /// Takes a level file into the project.
  void openLevel(const QString& path);

  std::shared_ptr<const pipeline::LoadedLevel> level() const { return level_; }
  std::shared_ptr<const pipeline::Ground> ground() const { return ground_; }
  std::shared_ptr<const pipeline::Run> run() const { return run_; }
  const std::vector<review::Finding>& findings() const { return findings_; }
  const std::vector<pipeline::KeptAnswer>& keptAnswers() const { return kept_; }
  std::optional<Problem> levelProblem() const { return levelProblem_; }

  bool groundFresh() const;
  bool runFresh() const;
  bool building() const { return building_; }
  bool running() const { return running_; }
  double progress() const { return progress_; }
  QString step() const { return step_; }
  bool autoBuild() const { return autoBuild_; }
  void setAutoBuild(bool on);

  void build();
  void runCrowd();
  void cancel();

 signals:
  void documentChanged();
  void levelChanged();
  void groundChanged();
  void runChanged();
  void findingsChanged();
  void workChanged();
  void fileChanged();
  void said(const QString& message);

 private:
  using Work = std::function<void(Job&)>;
  void afterChange();
  void loadLevel();
  void start(bool crowd, Work work);
  void takeGround(const Result<std::shared_ptr<const pipeline::Ground>>& result);
  void askKept();
  void gatherFindings();

  project::Document document_;
  QString filePath_;
  std::shared_ptr<const pipeline::LoadedLevel> level_;
  std::shared_ptr<const pipeline::Ground> ground_;
  std::shared_ptr<const pipeline::Run> run_;
  std::vector<review::Finding> findings_;
  std::vector<pipeline::KeptAnswer> kept_;
  std::optional<Problem> levelProblem_;
  std::optional<project::LevelSection> loadedFor_;
  std::jthread worker_;
  int generation_ = 0;
  bool building_ = false, running_ = false, autoBuild_ = true;
  double progress_ = 0;
  QString step_;
};

}  // namespace dune::window
