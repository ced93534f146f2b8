#pragma once
// Bodies that stand inside each other.

#include "core/review/body_review.h"

namespace dune::review {

/// One finding a contact: two bodies that part and meet again have two. O(samples × neighbours). Fails only when cancelled.
Result<std::vector<Finding>> reviewContacts(const Recording& recording, Job& job);

}  // namespace dune::review
