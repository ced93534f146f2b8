#pragma once
// The last run: letting a scene of the project walk in the background, or reading movement that was recorded elsewhere, and what came of
// it.

#include <QObject>

#include "window/session/background.h"
#include "window/session/bulletin.h"
#include "window/session/latest.h"

namespace dune::window {

class CrowdRuns : public QObject {
  Q_OBJECT

 public:
  CrowdRuns(Background& work, Bulletin& bulletin);

  /// Lets a scene walk; where the project has other settings to compare with, a second time with these.
  void start(const project::Project& project, const pipeline::KindGrounds& grounds, std::size_t agent, const std::string& scene);
  /// Reviews a recording on a ground; the crowd's last run gives way to it.
  void open(const project::Project& project, std::shared_ptr<const pipeline::Ground> ground, const std::string& path);
  bool running() const { return work_.worksFor(this); }
  const Latest<pipeline::Run>& last() const { return last_; }
  /// The same scene, steered in the other way; null without one.
  const std::shared_ptr<const pipeline::Run>& other() const { return other_; }
  /// The crowd as it stands while it walks: a run of one frame; null when it does not walk.
  std::shared_ptr<const pipeline::Run> live() const { return running() ? live_ : nullptr; }
  void drop();

 signals:
  void finished();

 private:
  Background& work_;
  Bulletin& bulletin_;
  Latest<pipeline::Run> last_;
  std::shared_ptr<const pipeline::Run> other_, live_;
};

}  // namespace dune::window
