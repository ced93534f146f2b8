#pragma once
// Why a way is closed where it would open, and what would open it: the limit, the object, the forbidden kind.

#include "core/pipeline/explainer.h"
#include "core/route/path.h"

namespace dune::pipeline {

/// For each opening of a partial path, in words: "rise 0.46 m against the step height of 0.40 m; a step height of 0.46 m would open it".
/// Empty without openings. O(openings × triangles near them).
std::string causesOf(Explainer& explainer, const Ground& ground, const route::PathAnswer& answer);

/// Finds out for a partial path what would open the way, and why it is closed there, and says both in its note.
void explainClosed(Explainer& explainer, const Ground& ground, route::PathAnswer& answer, Job& job,
                   double reach = route::PathOptions().reach);

}  // namespace dune::pipeline
