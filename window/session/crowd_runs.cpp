#include "window/session/crowd_runs.h"

namespace dune::window {

void CrowdRuns::start(const project::Project& project, const std::shared_ptr<const pipeline::Ground>& ground, std::size_t agent) {
  work_.start(this, [this, project, ground, agent](Job& job, const Background::Tell& tell) {
    auto result = pipeline::runCrowd(project, ground, agent, job);
    tell([this, result = std::move(result)] {
      if (result)
        last_ = *result;
      else if (result.problem().code != ProblemCode::cancelled)
        bulletin_.say(QString::fromStdString(result.problem().text()));
      bulletin_.add(Topic::run);
      emit finished();
    });
  });
}

void CrowdRuns::drop() {
  last_.reset();
  bulletin_.add(Topic::run);
}

}  // namespace dune::window
