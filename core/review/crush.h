#pragma once
// Where bodies crowd together on their way and hardly get on.

#include "core/review/body_review.h"

namespace dune::review {

/// One finding a place and time. O(samples of every half second × neighbours). Fails only when cancelled.
Result<std::vector<Finding>> reviewCrush(const Recording& recording, Job& job);

}  // namespace dune::review
