#include "core/system/threads.h"

#include <tbb/parallel_for.h>
#include <tbb/parallel_sort.h>
#include <tbb/task_arena.h>

namespace dune {

namespace {

int arenaSize(int threads) { return threads > 0 ? threads : tbb::task_arena::automatic; }

class MachineThreads : public Executor {
 public:
  void run(int threads, std::size_t count, std::size_t grain, const Range& range) override {
    tbb::task_arena arena(arenaSize(threads));
    arena.execute([&] {
      tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, grain),
                        [&](const tbb::blocked_range<std::size_t>& part) { range(part.begin(), part.end()); });
    });
  }
};

}  // namespace

Executor& machineThreads() {
  static MachineThreads threads;
  return threads;
}

void sortWords(const Job& job, std::vector<std::uint64_t>& words) {
  tbb::task_arena arena(arenaSize(job.executor() ? job.threads() : 1));
  arena.execute([&] { tbb::parallel_sort(words.begin(), words.end()); });
}

}  // namespace dune
