#include "core/base/parallel.h"

#include <algorithm>
#include <atomic>

namespace dune {

namespace {
constexpr std::size_t kReports = 200;  // over a whole loop, at most
}

bool parallelFor(Job& job, std::size_t count, const std::function<void(std::size_t)>& body, std::size_t grain, double from, double to) {
  std::atomic<std::size_t> done{0};
  const Executor::Range range = [&](std::size_t begin, std::size_t end) {
    for (std::size_t i = begin; i != end; ++i) {
      if ((i - begin) % grain == 0 && job.cancelled()) return;
      body(i);
    }
    const std::size_t before = done.fetch_add(end - begin), after = before + (end - begin);
    if (before * kReports / count != after * kReports / count)
      job.advance(from + (to - from) * static_cast<double>(after) / static_cast<double>(count));
  };
  if (job.executor() && job.threads() != 1 && count > grain)
    job.executor()->run(job.threads(), count, grain, range);
  else
    for (std::size_t begin = 0; begin < count; begin += grain) range(begin, std::min(count, begin + grain));
  return !job.cancelled();
}

}  // namespace dune
