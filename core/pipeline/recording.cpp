#include "core/pipeline/recording.h"

#include "core/pipeline/recording_units.h"
#include "core/pipeline/reviewed_on.h"
#include "core/trace/file.h"

namespace dune::pipeline {

Result<std::shared_ptr<const Run>> openRecording(const project::Project& project, std::shared_ptr<const Ground> ground,
                                                 const std::string& path, Job& job, const trace::Reading& reading) {
  job.step("recording", 0.5);
  auto trace = trace::readTrace(path, ground->mesh.agent.originHeight, job, reading);
  if (!trace) return trace.problem();
  auto run = std::make_shared<Run>();
  run->from = project, run->recording = path, run->reading = reading, run->ground = ground, run->grounds = {ground};
  run->trace = std::move(trace).value();
  run->meshOf.assign(run->trace.bodies().size(), 0);
  job.step("review", 0.9);
  // Our compact files say all themselves.
  const bool asIs = trace::isTraceFile(path);
  if (const auto guess = asIs ? std::nullopt : guessReading(run->trace, reviewedOn(*ground), reading)) {
    run->findings = {findingOf(*guess, run->trace)};
  } else {
    auto findings = review::reviewMovement(reviewedOn(*ground), run->trace, {}, job);
    if (!findings) return findings.problem();
    run->findings = *std::move(findings);
  }
  run->figures = figuresOf(run->trace, run->findings, 0);
  job.step("distances", 1);
  if (!measureWalls(*run, job)) return Job::cancelledProblem();
  return std::shared_ptr<const Run>(std::move(run));
}

}  // namespace dune::pipeline
