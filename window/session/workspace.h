#pragma once
// The open project, its results, and the work that makes them. Views listen to its signals and never start work themselves.
//
// Work runs on threads of its own with a copy of the document; the newest request wins, answers come by queued calls.

#include <QFileSystemWatcher>
#include <QObject>
#include <QTimer>
#include <memory>
#include <optional>

#include "core/pipeline/answers.h"
#include "core/pipeline/change.h"
#include "core/pipeline/level_review.h"
#include "core/project/document.h"
#include "window/scene/level_picture.h"
#include "window/scene/picking.h"
#include "window/session/background.h"
#include "window/session/build_prices.h"
#include "window/session/trials.h"

namespace dune::window {

class Workspace : public QObject {
  Q_OBJECT

 public:
  explicit Workspace(QObject* parent = nullptr);

  project::Document& document() { return document_; }
  const project::Project& project() const { return document_.project(); }
  void change(const QString& label, const std::function<void(project::Project&)>& edit, const QString& mergeKey = {});

  const QString& filePath() const { return filePath_; }
  std::optional<Problem> open(const QString& path);
  std::optional<Problem> save(const QString& path);
  void startNew();
  /// Takes a level file into the project: in place of those that are there, or beside them.
  void openLevel(const QString& path, bool beside = false);

  std::shared_ptr<const pipeline::LoadedLevel> level() const { return level_; }
  /// The kind of agent that is worked on, and its ground.
  std::size_t agent() const { return agent_; }
  const nav::Agent& agentKind() const { return project().agents->agents[agent_]; }
  void setAgent(std::size_t agent);
  std::shared_ptr<const pipeline::Ground> ground() const { return groundOf(agent_); }
  std::shared_ptr<const pipeline::Ground> groundOf(std::size_t agent) const;
  /// Another kind of agent whose ground is compared with that of the one that is worked on.
  void setCompared(std::optional<std::size_t> agent);
  std::optional<std::size_t> compared() const { return compared_; }
  /// What the last build, or all since a build that was kept, changed for the agent that is worked on; null before a second build.
  std::shared_ptr<const pipeline::Change> change() const { return change_; }
  void keepBuild();
  void forgetKept();
  bool comparesWithKept() const { return !keptBuild_.empty(); }
  /// Whether the ground to compare with was made from the level in other units, so that there is nothing to compare.
  bool acrossUnits() const;
  std::shared_ptr<const pipeline::Run> run() const { return run_; }
  const std::vector<review::Finding>& findings() const { return findings_; }
  /// What the ground that is worked on says to the kept routes and the cards.
  const pipeline::Answers& answers() const;
  const Box3& levelBounds() const { return levelBounds_; }
  /// The level with its blockers; of nothing, twenty metres around the origin.
  Box3 worldBounds() const;
  /// What is drawn for the level; null without a level.
  std::shared_ptr<const LevelPicture> levelPicture() const { return level_ ? picture_ : nullptr; }
  /// A stand-in for the ground of an agent where that is large (coarse.h), else null.
  std::shared_ptr<const level::Level> groundStandIn(std::size_t agent) const;
  /// A coarser one for while the view moves, or null.
  std::shared_ptr<const level::Level> groundSketch(std::size_t agent) const;
  /// Bytes that the level takes here, with what it is picked by.
  std::size_t levelBytes() const;
  std::shared_ptr<const PickTree> pickTree() const { return level_ ? tree_ : nullptr; }
  /// What a build takes: seconds by what this machine took for the last ones of any level, memory by an estimate; empty without a level.
  QString price() const;
  std::optional<Problem> levelProblem() const { return levelProblem_; }
  /// What was different when files were last read again; empty as long as nothing was.
  const pipeline::LevelNews& news() const { return news_; }

  bool groundFresh() const;
  bool runFresh() const;
  bool building() const { return building_; }
  bool running() const { return running_; }
  double progress() const { return progress_; }
  QString step() const { return step_; }
  /// What building looks at; for this session, and for all kinds of agent.
  const generate::Scope& scope() const { return scope_; }
  void setScope(const generate::Scope& scope);
  bool autoBuild() const { return autoBuild_; }
  void setAutoBuild(bool on);
  /// Reads again what changed on the disk.
  void readAgain();

  void build();
  void runCrowd();
  void cancel();

  /// What is tried in the background, beside building.
  Trials& trials() { return trials_; }
  void trySweep(const pipeline::SweepPlan& plan);
  void tryPassing(const Vec3& from, const Vec3& to);

 signals:
  void documentChanged();
  void levelChanged();
  void groundChanged();
  void changeChanged();
  void agentChanged();
  void answersChanged();
  void runChanged();
  void findingsChanged();
  void workChanged();
  void fileChanged();
  void said(const QString& message);

 private:
  using Grounds = std::map<std::string, std::shared_ptr<const pipeline::Ground>>;  // by the agent's name
  void afterChange();
  bool freshFor(std::size_t agent) const;
  bool allFresh() const;
  void loadLevel();
  void start(bool crowd, Background::Work work);
  struct Reading {
    Result<std::shared_ptr<const pipeline::LoadedLevel>> loaded;
    std::shared_ptr<const PickTree> tree;
    std::shared_ptr<const LevelPicture> picture;
    Box3 bounds;
    ground::Survey::Ahead ahead;
    pipeline::LevelNews news;  ///< against the level before
  };
  void takeLevel(const Reading& reading);
  void refuseLevel(const Problem& problem);
  /// A ground with what it answers, and what is drawn for it where it is large.
  struct Known {
    pipeline::Answers answers;
    std::shared_ptr<const level::Level> standIn, sketch;
  };
  void takeKnown(const Known& now);
  void watch();
  void compareBuilds();
  std::shared_ptr<const pipeline::Ground> comparedWith() const;
  void dropResults();
  void askWhatIsNew();
  void stopWork();
  Grounds grounds() const;
  void gatherFindings();

  project::Document document_;
  QString filePath_;
  std::shared_ptr<const pipeline::LoadedLevel> level_;
  std::shared_ptr<const PickTree> tree_;
  std::shared_ptr<const LevelPicture> picture_;
  Box3 levelBounds_;
  ground::Survey::Ahead ahead_;  // of a first build, for the agent that was worked on when the level was read
  generate::Scope scope_;
  Grounds reference_, keptBuild_;
  std::shared_ptr<const pipeline::Change> change_;
  std::size_t agent_ = 0;
  std::optional<std::size_t> compared_;
  std::size_t stepSeen_ = 0;
  std::shared_ptr<const pipeline::Run> run_;
  std::vector<review::Finding> findings_, levelFindings_;
  std::map<std::string, Known> known_;  // by the agent's name
  BuildPrices prices_;
  std::optional<Problem> levelProblem_;
  bool refused_ = false;  // what was read last could not be used
  pipeline::LevelNews news_;
  std::optional<std::vector<project::LevelFile>> loadedFor_;
  QFileSystemWatcher watcher_;
  QTimer settle_;                // programs write files in several goes
  Background work_, comparing_;  // reading, building and running; what changed
  Trials trials_;
  bool building_ = false, running_ = false, autoBuild_ = true;
  double progress_ = 0;
  QString step_;
};

}  // namespace dune::window
