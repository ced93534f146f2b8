#pragma once
// The machine's threads, by oneTBB. Only the workbench half links them; a game hands its own Executor to a Job.

#include <cstdint>
#include <vector>

#include "core/base/job.h"

namespace dune {

/// Has no state of its own: any number of jobs may use it at once.
Executor& machineThreads();

/// A job on the machine's threads.
class ThreadedJob : public Job {
 public:
  ThreadedJob() { setExecutor(&machineThreads()); }
  explicit ThreadedJob(std::stop_token stop, Report report = {}, int threads = 0) : Job(std::move(stop), std::move(report), threads) {
    setExecutor(&machineThreads());
  }
};

/// From now on the calling thread, and all threads that help it, give way to others that want to run: for long work behind a window.
/// Cannot be taken back.
void giveWay();

/// Sorts on the machine's threads, as many as the job may use.
void sortWords(const Job& job, std::vector<std::uint64_t>& words);

}  // namespace dune
