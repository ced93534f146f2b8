#include "core/base/parallel.h"

#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <atomic>

namespace dune {

namespace {
// Small enough for a cancel to be heard quickly, large enough to hide the cost of a task.
constexpr std::size_t kGrain = 16;
}  // namespace

bool parallelFor(Job& job, std::size_t count, const std::function<void(std::size_t)>& body) {
  std::atomic<std::size_t> done{0};
  auto run = [&](const tbb::blocked_range<std::size_t>& range) {
    if (job.cancelled()) return;
    for (std::size_t i = range.begin(); i != range.end(); ++i) body(i);
    const std::size_t before = done.fetch_add(range.size());
    if (before / (kGrain * 64) != (before + range.size()) / (kGrain * 64))
      job.advance(static_cast<double>(before) / static_cast<double>(count));
  };
  tbb::task_arena arena(job.threads() > 0 ? job.threads() : tbb::task_arena::automatic);
  arena.execute([&] { tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, kGrain), run); });
  return !job.cancelled();
}

}  // namespace dune
