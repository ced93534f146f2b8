#pragma once
// What bodies of a run did over time, in numbers: of one body, or between which values most of all bodies were.

#include "core/pipeline/crowd_run.h"

namespace dune::pipeline {

enum class Measure : std::uint8_t {
  speed,         ///< m/s
  wallDistance,  ///< m, at most kFarFromWalls
  offPath,       ///< m from the path that was followed; where that is not known, from the best way of the trip
  turning,       ///< degrees a second, of who walks
  toGoal,        ///< m, straight
  neighbours     ///< bodies within kNeighbour metres between middles, on the same storey
};
constexpr Measure kMeasures[] = {Measure::speed,   Measure::wallDistance, Measure::offPath,
                                 Measure::turning, Measure::toGoal,       Measure::neighbours};
constexpr double kNeighbour = 2;  ///< metres
/// "speed", "m/s"; of a run, for what it is measured from differs.
struct MeasureWords {
  const char *name, *unit;
};
MeasureWords wordsOf(Measure measure, const Run& run);

/// One value a frame of the trace, not a number where there is nothing to say: it is not there, has no goal, does not walk. Empty when
/// cancelled. O(frames), neighbours O(frames × bodies), the best way one search.
std::vector<float> curveOf(const Run& run, std::size_t body, Measure measure, Job& job);

/// At some times of a run: a tenth of the bodies are below `low`, half below `middle`, a tenth above `high`.
struct Band {
  std::vector<double> times;
  std::vector<float> low, middle, high;  ///< one a time; not a number where nobody says anything
};
/// Of at most some hundred times and, where there are very many, of some thousand bodies spread over all. Empty when cancelled.
Band bandOf(const Run& run, Measure measure, Job& job);

}  // namespace dune::pipeline
