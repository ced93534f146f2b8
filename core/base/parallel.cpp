#include "core/base/parallel.h"

#include <tbb/parallel_for.h>
#include <tbb/parallel_sort.h>
#include <tbb/task_arena.h>

#include <atomic>

namespace dune {

namespace {
constexpr std::size_t kReports = 200;  // over a whole loop, at most
int arenaSize(const Job& job) { return job.threads() > 0 ? job.threads() : tbb::task_arena::automatic; }
}  // namespace

bool parallelFor(Job& job, std::size_t count, const std::function<void(std::size_t)>& body, std::size_t grain, double from, double to) {
  std::atomic<std::size_t> done{0};
  auto run = [&](const tbb::blocked_range<std::size_t>& range) {
    for (std::size_t i = range.begin(); i != range.end(); ++i) {
      if ((i - range.begin()) % grain == 0 && job.cancelled()) return;
      body(i);
    }
    const std::size_t before = done.fetch_add(range.size()), after = before + range.size();
    if (before * kReports / count != after * kReports / count)
      job.advance(from + (to - from) * static_cast<double>(after) / static_cast<double>(count));
  };
  tbb::task_arena arena(arenaSize(job));
  arena.execute([&] { tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, grain), run); });
  return !job.cancelled();
}

void sortWords(const Job& job, std::vector<std::uint64_t>& words) {
  tbb::task_arena arena(arenaSize(job));
  arena.execute([&] { tbb::parallel_sort(words.begin(), words.end()); });
}

}  // namespace dune
