#pragma once
// In what units and axes a recording was probably made, told by whether its places lie on the ground and its speeds are those of agents.

#include "core/review/movement.h"

namespace dune::pipeline {

struct ReadingGuess {
  trace::Reading read;  ///< with the columns of the reading that it is instead of
  std::string reason;   ///< "Then 97 % of its places lie on the ground, 2 % as it is read now."
};

/// Nothing where most places lie on the ground at likely speeds, and where no other way to read it is clearly better. `now`: how it was
/// read. O(some hundred places).
std::optional<ReadingGuess> guessReading(const trace::Trace& trace, const review::Ground& ground, const trace::Reading& now);

/// The one thing to say about a recording that is read in a wrong way.
review::Finding findingOf(const ReadingGuess& guess, const trace::Trace& trace);

}  // namespace dune::pipeline
