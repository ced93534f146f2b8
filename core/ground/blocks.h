#pragma once
// Many small questions that are answered side by side, their answers kept in order.

#include <algorithm>
#include <optional>
#include <vector>

#include "core/base/parallel.h"

namespace dune::ground {

/// Calls find(i, found) for every i below `count`, of which each block of some adds to a Found of its own; answers with one a block, in
/// order. Nothing when cancelled. One chunk of a level may have more in it than all the others, so that chunks side by side are not enough.
template <class Found, class Find>
std::optional<std::vector<Found>> findInBlocks(const Job& job, std::size_t count, Find&& find) {
  constexpr std::size_t kBlock = 8;
  std::vector<Found> found((count + kBlock - 1) / kBlock);
  Job quiet(job, Job::Quiet{});
  const auto block = [&](std::size_t b) {
    if (job.cancelled()) return;
    for (std::size_t i = b * kBlock; i < std::min(count, (b + 1) * kBlock); ++i) find(i, found[b]);
  };
  if (!parallelFor(quiet, found.size(), block, 1) || job.cancelled()) return std::nullopt;
  return found;
}

}  // namespace dune::ground
