// A race on purpose: the thread sanitizer must see it, or its silence about the others means nothing.

#include <cstdio>

#include "core/base/parallel.h"
#include "core/system/threads.h"

int main() {
  dune::ThreadedJob job;
  job.setThreads(4);
  long sum = 0;
  dune::parallelFor(
      job, 100000, [&](std::size_t i) { sum += static_cast<long>(i); }, 1);
  std::printf("%ld\n", sum);
  return 0;
}
