#pragma once
// The crowd's last run: letting the project's groups walk in the background, and what came of it.

#include <QObject>

#include "window/session/background.h"
#include "window/session/bulletin.h"
#include "window/session/latest.h"

namespace dune::window {

class CrowdRuns : public QObject {
  Q_OBJECT

 public:
  CrowdRuns(Background& work, Bulletin& bulletin) : work_(work), bulletin_(bulletin) {}

  void start(const project::Project& project, const std::shared_ptr<const pipeline::Ground>& ground, std::size_t agent);
  bool running() const { return work_.worksFor(this); }
  const Latest<pipeline::Run>& last() const { return last_; }
  void drop();

 signals:
  void finished();

 private:
  Background& work_;
  Bulletin& bulletin_;
  Latest<pipeline::Run> last_;
};

}  // namespace dune::window
