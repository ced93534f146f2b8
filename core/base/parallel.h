#pragma once
// Work split by place: parallelFor calls body(i) for every i in [0, count), in any order, on the job's threads. Each i
// writes only its own slot, so the result does not depend on the number of threads. Stops early when cancelled.

#include <cstddef>
#include <functional>

#include "core/base/job.h"

namespace dune {

/// Returns false when the job was cancelled; slots may then be unfilled.
bool parallelFor(Job& job, std::size_t count, const std::function<void(std::size_t)>& body);

}  // namespace dune
