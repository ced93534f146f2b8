#pragma once
// Single ways off the border put together to links that are as wide as what they go over.

#include "core/links/border_runs.h"
#include "core/links/landings.h"

namespace dune::links {

/// `ways`: of each place of each run, where one may land. Numbered from kFirstFound. O(ways · links near).
std::vector<nav::Link> stretches(const nav::NavMesh& mesh, const nav::Locator& locator, const std::vector<BorderRun>& runs,
                                 const std::vector<std::vector<std::vector<Landing>>>& ways, double spacing);

}  // namespace dune::links
