#include "core/system/threads.h"

#include <sys/resource.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_sort.h>
#include <tbb/task_arena.h>
#include <tbb/task_scheduler_observer.h>
#include <unistd.h>

#include <algorithm>
#include <atomic>
#include <thread>
#include <utility>

namespace dune {

namespace {

/// On Linux a thread has a priority of its own, by its number. One that cannot be lowered stays as it is.
void lowerThisThread() {
  constexpr int kLower = 10;  // of 19
  setpriority(PRIO_PROCESS, static_cast<id_t>(gettid()), kLower);
}

class HelpersGiveWay : public tbb::task_scheduler_observer {
 public:
  HelpersGiveWay() { observe(true); }
  ~HelpersGiveWay() override { observe(false); }
  void on_scheduler_entry(bool helper) override {
    if (helper) lowerThisThread();
  }
};

[[maybe_unused]] int arenaSize(int threads) { return threads > 0 ? threads : tbb::task_arena::automatic; }

// oneTBB is not compiled for the thread sanitizer, which then sees races where there are none and must be told to look away; so under it
// plain threads stand in, and nothing is hidden.
#if defined(__SANITIZE_THREAD__)
#define DUNE_PLAIN_THREADS 1
#elif defined(__has_feature)
#if __has_feature(thread_sanitizer)
#define DUNE_PLAIN_THREADS 1
#endif
#endif

#ifdef DUNE_PLAIN_THREADS
class MachineThreads : public Executor {
 public:
  void run(int threads, std::size_t count, std::size_t grain, const Range& range) override {
    std::atomic<std::size_t> next{0};
    const auto work = [&] {
      for (std::size_t begin; (begin = next.fetch_add(grain)) < count;) range(begin, std::min(count, begin + grain));
    };
    std::vector<std::jthread> others;
    for (int i = 1; i < (threads > 0 ? threads : 4); ++i) others.emplace_back(work);
    work();
  }
};
#else
class MachineThreads : public Executor {
 public:
  /// Work within work goes on in the arena that it is in, so that there are never more threads than were asked for; who waits for it takes
  /// up nothing else meanwhile, for what he has begun may not be whole.
  void run(int threads, std::size_t count, std::size_t grain, const Range& range) override {
    const auto all = [&] {
      tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, grain), [&](const tbb::blocked_range<std::size_t>& part) {
        const bool before = std::exchange(within_, true);
        range(part.begin(), part.end());
        within_ = before;
      });
    };
    if (within_) return tbb::this_task_arena::isolate(all);
    tbb::task_arena arena(arenaSize(threads));
    arena.execute(all);
  }

 private:
  static thread_local bool within_;  // a part of such work
};
thread_local bool MachineThreads::within_ = false;
#endif

}  // namespace

Executor& machineThreads() {
  static MachineThreads threads;
  return threads;
}

void giveWay() {
  lowerThisThread();
#ifndef DUNE_PLAIN_THREADS  // whose threads inherit it
  static HelpersGiveWay helpers;
#endif
}

void sortWords(const Job& job, std::vector<std::uint64_t>& words) {
#ifdef DUNE_PLAIN_THREADS
  static_cast<void>(job);
  std::sort(words.begin(), words.end());
#else
  tbb::task_arena arena(arenaSize(job.executor() ? job.threads() : 1));
  arena.execute([&] { tbb::parallel_sort(words.begin(), words.end()); });
#endif
}

}  // namespace dune
