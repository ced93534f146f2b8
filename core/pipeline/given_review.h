#pragma once
// What is wrong with a mesh from elsewhere, each with what a button can do about it.

#include "core/pipeline/ground.h"

namespace dune::pipeline {

/// Adds to what was found how its faces are and how they lie on the level, where there is one, and remedies to all of it. `agent` by
/// number. `most`: findings of each kind, one by one.
void reviewGiven(const Ground& ground, std::size_t agent, std::vector<review::Finding>& findings, Job& job, std::size_t most = 30);

}  // namespace dune::pipeline
