#pragma once
// Crowds run and traces made up for tests.

#include "core/system/threads.h"
#include "core/trace/trace.h"

namespace dune::test {

/// All samples, by time, then by body.
inline std::vector<trace::Sample> samplesOf(const trace::Trace& trace) {
  std::vector<trace::Sample> all;
  for (std::size_t f = 0; f < trace.frameCount(); ++f)
    for (std::size_t b = 0; b < trace.bodies().size(); ++b) all.push_back(trace.at(f, b));
  return all;
}

/// The crowd's movement for some seconds; a trace without bodies where it cannot be.
inline trace::Trace walked(const route::Field& field, const std::vector<crowd::Walker>& walkers, double seconds, int threads = 0,
                           const crowd::SceneOptions& options = {}) {
  ThreadedJob job;
  job.setThreads(threads);
  trace::Trace trace;
  auto crowd = crowd::Crowd::make(field, walkers, options);
  if (!crowd || !trace::record(crowd.value(), seconds, trace, job)) return {};
  return trace;
}

}  // namespace dune::test
