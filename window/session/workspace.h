#pragma once
// The session as a whole: owns its parts and lets one follow from the other. What is made stands in the parts; views read them, and hear
// of changes by the bulletin. Views never start work but here.
//
// document → level as read → ground of each kind of agent → comparison, answers, runs → findings

#include <QObject>

#include "window/session/airs.h"
#include "window/session/comparison.h"
#include "window/session/crowd_runs.h"
#include "window/session/finding_list.h"
#include "window/session/insights.h"
#include "window/session/level_source.h"
#include "window/session/playback.h"
#include "window/session/trials.h"
#include "window/session/unsaved_work.h"

namespace dune::window {

class Workspace : public QObject {
  Q_OBJECT

 public:
  explicit Workspace(QObject* parent = nullptr);

  Bulletin& bulletin() { return bulletin_; }
  Selection& selection() { return selection_; }
  Playback& playback() { return playback_; }
  project::Document& document() { return document_; }
  const project::Project& project() const { return document_.project(); }
  void change(const QString& label, const std::function<void(project::Project&)>& edit, const QString& mergeKey = {});

  const ProjectFile& file() const { return file_; }
  const LevelSource& source() const { return source_; }
  const Grounds& grounds() const { return grounds_; }
  const Comparison& comparison() const { return comparison_; }
  const CrowdRuns& crowd() const { return crowd_; }
  Insights& insights() { return insights_; }
  const FindingList& findings() const { return findings_; }
  const Background& work() const { return work_; }
  const Trials& trials() const { return trials_; }
  const Airs& airs() const { return airs_; }
  /// Makes the free space of a kind that flies, by its id, if there is none that holds, beside everything else.
  void wantAir(int flyer);
  void setFlown(std::shared_ptr<const Flown> flown) { airs_.setFlown(std::move(flown)); }

  std::optional<Problem> open(const QString& path);
  /// Goes on with work that a program left behind: over what the project's file has, so that undo leads back to that.
  std::optional<Problem> goOnWith(const QString& left);
  std::optional<Problem> save(const QString& path) { return file_.save(path); }
  void startNew() { take({}); }
  /// Takes a project that is kept nowhere yet: saving asks where.
  void take(project::Project project);
  /// Takes a level file into the project: in place of those that are there, or beside them.
  void openLevel(const QString& path, bool beside = false);
  /// Takes a mesh from elsewhere in place of one that is built, once it is read; one that cannot be read is told, and changes nothing.
  void openMesh(const QString& path);
  /// The mesh is built from the level again.
  void giveMeshUp();
  /// Mends all findings of a kind about a mesh from elsewhere, in the background, as one step of the document.
  void mendAll(const std::string& code, const QString& label);
  /// Makes one step of the document on a thread of its own, and then does `then` on the window's; where it is refused, that is told.
  void changeInBackground(const QString& label, const std::function<Result<project::Project>(Job&)>& make,
                          const std::function<void()>& then = {});
  /// Reads again what changed on the disk.
  void readAgain();

  // Of the kind of agent that is worked on.
  std::size_t agent() const { return agent_; }
  const project::AgentKind& agentKind() const { return project().agents->agents[agent_]; }
  void setAgent(std::size_t agent);
  std::shared_ptr<const pipeline::LoadedLevel> level() const { return source_.level(); }
  std::shared_ptr<const pipeline::Ground> ground() const { return grounds_.of(agentKind().id); }
  bool groundFresh() const { return grounds_.fresh(project(), agent_, level()); }
  const pipeline::Answers& answers() const { return grounds_.answers(agentKind().id); }
  /// What its kind of agent says to a kept route; null before its ground is built.
  const pipeline::KeptAnswer* keptAnswer(const project::KeptRoute& route) const;
  std::shared_ptr<const pipeline::Run> run() const { return crowd_.last().value(); }
  /// The same, but for movement that was recorded elsewhere.
  std::shared_ptr<const pipeline::Run> crowdRun() const { return run() && run()->recording.empty() ? run() : nullptr; }
  bool runFresh() const;
  /// The scene of the project's crowds that is worked on; the first where that is gone.
  std::string scene() const;
  /// A name that no group has yet begins a new scene with the next group.
  void setScene(const std::string& scene);
  /// The level with its blockers; of nothing, twenty metres around the origin.
  Box3 worldBounds() const;
  /// What a build takes, in words; empty without a level.
  QString price() const;

  /// Another kind of agent, by id, whose ground is compared with that of the one that is worked on.
  void compareWith(std::optional<int> kind);
  /// Later builds are compared with this one, until it is forgotten.
  void keepBuild();
  void forgetKept();

  void setScope(const generate::Scope& scope);
  bool autoBuild() const { return autoBuild_; }
  void setAutoBuild(bool on);
  /// Reading or building is on its way.
  bool building() const { return grounds_.building() || source_.reading(); }
  /// A change of the document is on its way in the background.
  bool changing() const { return work_.worksFor(this); }
  void build();
  void runCrowd();
  /// Looks at movement that was recorded elsewhere, on the ground of the kind of agent that is worked on.
  void openRecording(const QString& path, const trace::Reading& reading = {});
  /// Looks at one of the runs that are kept; a recording on the ground as it is now.
  void showRun(const std::shared_ptr<const pipeline::Run>& run);
  /// Looks at one of them beside it, and says what is new and what is gone; null: none.
  void compareRun(const std::shared_ptr<const pipeline::Run>& run) { crowd_.compareWith(run); }
  void cancel();
  void trySweep(const pipeline::SweepPlan& plan);
  void tryPassing(const Vec3& from, const Vec3& to);
  void cancelTrial() { trials_.cancel(); }

  /// Rises whenever another project takes the place of the one before: what was looked for in that one is not looked for in this one.
  int projectNumber() const { return projectNumber_; }

 private:
  /// Makes a change that took work in the background, if the document is still what it was made from.
  void changeFrom(const project::Project& from, const QString& label, Result<project::Project> changed);
  void afterChange();
  void afterReading(bool usable);
  void afterBuild(bool allMade);
  void dropResults();
  /// Whether nothing is to be built, but hand work to be laid over what is built: that is done at once, whoever builds when.
  bool onlyToLay() const;
  bool allFresh() const { return grounds_.allFresh(project(), level()); }
  void compare();
  void gatherFindings();
  void askAgain();

  Bulletin bulletin_;
  project::Document document_;
  project::Project seen_;  // the document as of the last bulletin
  Selection selection_{bulletin_};
  Playback playback_{selection_, bulletin_};
  ProjectFile file_{document_, bulletin_};
  UnsavedWork unsaved_{document_, file_, bulletin_};
  Background work_;  // one thing at a time: reading, building or running
  LevelSource source_{file_, work_, bulletin_};
  Grounds grounds_{work_, bulletin_};
  Comparison comparison_{bulletin_};
  CrowdRuns crowd_{work_, bulletin_};
  Insights insights_{playback_, bulletin_};
  FindingList findings_{bulletin_};
  Trials trials_{bulletin_};
  Airs airs_{bulletin_};
  std::size_t agent_ = 0;
  std::string scene_;
  bool sceneIsNew_ = false;  // nothing is in it yet
  bool autoBuild_ = true;
  int projectNumber_ = 0;
};

}  // namespace dune::window
