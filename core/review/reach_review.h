#pragma once
// What can be said of who comes where.

#include "core/review/findings.h"

namespace dune::review {

/// Islands, ground that one can never leave again, ground and drawn links that nobody comes to. O(faces + links).
void reviewReach(const nav::NavMesh& mesh, const nav::Rules& rules, const MeshLimits& limits, std::vector<Finding>& findings);

}  // namespace dune::review
