#pragma once
// The fixed-step simulation: bodies follow their paths and avoid each other and the walls.
//
// 1. Same input, same trace, for any number of threads: every body decides from the positions at the begin of the step.
// 2. A body never leaves the mesh: its step is cut at the border.
// 3. Velocity changes by no more than the acceleration, heading by no more than the turning rate (a body that must turn
//    further slows down first).

#include "core/base/job.h"
#include "core/crowd/scene.h"
#include "core/crowd/trace.h"

namespace dune::crowd {

/// Fails when cancelled, or when a number of the scene makes no sense. O(steps × bodies × neighbours).
Result<Trace> run(const route::Field& field, const std::vector<Walker>& walkers, const SceneOptions& options, Job& job);

}  // namespace dune::crowd
