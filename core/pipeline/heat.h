#pragma once
// Where bodies of a run were, and where they were held up: seconds by square of the ground.

#include "core/pipeline/crowd_run.h"

namespace dune::pipeline {

enum class Heat : std::uint8_t {
  none,
  there,   ///< anybody
  slow,    ///< on their way, at less than half of their top speed
  stood,   ///< on their way, standing
  atWalls  ///< nearer to a wall than a tenth of the radius more than it
};
struct HeatCell {
  Vec3 at{};           ///< its middle, as high as bodies were there on the mean
  double seconds = 0;  ///< of all bodies together
};
constexpr double kHeatCell = 0.5;  ///< metres: the side of a square

/// Squares of which there is anything to say, in a fixed order; storeys apart. Of a long trace only every so many samples count.
/// O(samples), at most some millions. Nothing when cancelled.
std::vector<HeatCell> heatOf(const Run& run, Heat heat, Job& job);

}  // namespace dune::pipeline
