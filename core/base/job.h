#pragma once
// A Job is what slow work is handed: whether to stop, what may run beside it, and where to say how far it is.
//
// 1. cancelled() is sticky: once true, always true.
// 2. Progress only grows, from 0 to 1, over the whole job; a step names what is going on.
// 3. Any thread may ask and report.

#include <atomic>
#include <cstddef>
#include <functional>
#include <mutex>
#include <stop_token>
#include <string>

#include "core/base/result.h"

namespace dune {

/// Runs work on several threads. Whoever starts a job hands one in; without any, work is done on the calling thread.
class Executor {
 public:
  virtual ~Executor() = default;
  using Range = std::function<void(std::size_t begin, std::size_t end)>;
  /// Calls `range` for pieces that cover [0, count), each of about `grain`, in any order, on up to `threads` threads (0: all there are),
  /// and returns when all are done.
  virtual void run(int threads, std::size_t count, std::size_t grain, const Range& range) = 0;
};

class Job {
 public:
  using Report = std::function<void(const std::string& step, double fraction)>;

  Job() = default;
  explicit Job(std::stop_token stop, Report report = {}, int threads = 0);
  struct Quiet {};
  /// A part of another job's work: it ends with it and has its means, but says nothing of its own steps.
  Job(const Job& whole, Quiet)
      : stop_(whole.stop_), executor_(whole.executor_), threads_(whole.threads_), memoryLimit_(whole.memoryLimit_) {}
  Job(const Job&) = delete;
  Job& operator=(const Job&) = delete;

  /// Threads that the work may use; 0 means all of the machine's.
  int threads() const { return threads_; }
  void setThreads(int threads) { threads_ = threads; }
  /// What runs parts of the work side by side; null: nothing does. It must outlive the job.
  Executor* executor() const { return executor_; }
  void setExecutor(Executor* executor) { executor_ = executor; }
  static constexpr std::size_t kDefaultMemory = std::size_t{4} << 30;
  /// Bytes that the work may take; above zero.
  std::size_t memoryLimit() const { return memoryLimit_; }
  void setMemoryLimit(std::size_t bytes) { memoryLimit_ = bytes; }

  bool cancelled() const;
  /// For tests: cancel at the n-th time cancelled() is asked from now on.
  void cancelAtCheck(long n) { checksLeft_ = n; }

  /// Begins a step that takes the job from its present fraction to `until`.
  void step(const std::string& name, double until);
  /// Says how much of the present step is done, 0 to 1.
  void advance(double ofStep);

  static Problem cancelledProblem() { return {ProblemCode::cancelled, "Cancelled.", "", ""}; }

 private:
  std::stop_token stop_;
  Report report_;
  Executor* executor_ = nullptr;
  int threads_ = 0;
  std::size_t memoryLimit_ = kDefaultMemory;
  mutable std::atomic<bool> cancelled_{false};
  mutable std::atomic<long> checksLeft_{-1};
  std::mutex mutex_;
  std::string step_;
  double from_ = 0, until_ = 0, now_ = 0;
};

}  // namespace dune
