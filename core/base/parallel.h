#pragma once
// Work split by place: parallelFor calls body(i) for every i in [0, count), in any order, on the job's executor. Each i
// writes only its own slot, so the result does not depend on the number of threads. Stops early when cancelled.

#include <cstddef>
#include <functional>

#include "core/base/job.h"

namespace dune {

/// Returns false when the job was cancelled; slots may then be unfilled. `grain` pieces of work go together; progress within the
/// job's step goes from `from` to `to`.
bool parallelFor(Job& job, std::size_t count, const std::function<void(std::size_t)>& body, std::size_t grain = 16, double from = 0,
                 double to = 1);

}  // namespace dune
