#pragma once
// The floor under any generator that samples: every triangle rasterised once into the samples of the plan, and nothing else.

#include "core/level/level.h"

namespace dune::bench {

/// Keeps height, slope and object of every triangle over every sample; gives back how many were kept.
std::size_t floorProgram(const level::Level& level, double spacing);

}  // namespace dune::bench
