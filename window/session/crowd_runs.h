#pragma once
// Runs: letting a scene of the project walk in the background, or reading movement that was recorded elsewhere, and what came of it. One is
// looked at; those before it are kept, and one of them can be looked at beside it.

#include <QObject>

#include "window/session/background.h"
#include "window/session/bulletin.h"
#include "window/session/latest.h"

namespace dune::window {

class CrowdRuns : public QObject {
  Q_OBJECT

 public:
  /// A run, and one of the same scene steered in the other way, or null.
  using Runs = std::pair<std::shared_ptr<const pipeline::Run>, std::shared_ptr<const pipeline::Run>>;

  CrowdRuns(Background& work, Bulletin& bulletin);

  /// Lets a scene walk; where the project has other settings to compare with, a second time with these.
  void start(const project::Project& project, const pipeline::KindGrounds& grounds, std::size_t agent, const std::string& scene);
  /// Reviews a recording on a ground; the crowd's last run gives way to it.
  void open(const project::Project& project, std::shared_ptr<const pipeline::Ground> ground, const std::string& path,
            const trace::Reading& reading);
  bool running() const { return work_.worksFor(this); }
  const Latest<pipeline::Run>& last() const { return last_; }
  /// What is looked at beside it: the run that it is compared with, or the same scene, steered in the other way; null without any.
  const std::shared_ptr<const pipeline::Run>& other() const { return compared_ ? compared_ : other_; }
  /// A run with the name it goes by.
  struct Kept {
    std::shared_ptr<const pipeline::Run> run;
    QString name;
  };
  /// The last runs of the crowd, and every recording that was opened, the oldest first; the one that is looked at is one of them.
  const std::vector<Kept>& kept() const { return kept_; }
  QString nameOf(const pipeline::Run& run) const;
  /// Looks at another one of them.
  void show(const std::shared_ptr<const pipeline::Run>& run);
  /// One of them beside the one that is looked at; null: none.
  void compareWith(std::shared_ptr<const pipeline::Run> run);
  const std::shared_ptr<const pipeline::Run>& compared() const { return compared_; }
  /// The crowd as it stands while it walks: a run of one frame; null when it does not walk.
  std::shared_ptr<const pipeline::Run> live() const { return running() ? live_ : nullptr; }
  void drop();

 signals:
  void finished();
  void turned();  ///< what is looked at, or what beside it, is another of those that are kept

 private:
  void take(const Result<Runs>& result);
  void keep(const std::shared_ptr<const pipeline::Run>& run);

  Background& work_;
  Bulletin& bulletin_;
  Latest<pipeline::Run> last_;
  std::shared_ptr<const pipeline::Run> other_, live_, compared_;
  std::vector<Kept> kept_;
  int walked_ = 0;  // runs of the crowd so far
};

}  // namespace dune::window
