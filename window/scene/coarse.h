#pragma once
// A stand-in for a level that is too large to draw whole at every movement of the eye.

#include <memory>

#include "core/base/job.h"
#include "core/level/level.h"

namespace dune::window {

constexpr std::size_t kMostDrawn = 120'000;  // triangles

/// The level itself when it is small; else one with the same objects of about `most` triangles at the most. Vertices are gathered in
/// cells, and one stands for all of its cell (vertex clustering: Rossignac & Borrel 1993): in the middle of them in plan and as low as
/// the lowest, so that the stand-in seldom covers what lies on the true surface. O(triangles) a round, some rounds. Without meaning when cancelled.
std::shared_ptr<const level::Level> coarseLevel(std::shared_ptr<const level::Level> level, const Job& job, std::size_t most = kMostDrawn);

}  // namespace dune::window
