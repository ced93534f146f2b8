#pragma once
// Whether a mesh lies on the level that it was made for, and within its bounds.

#include "core/pipeline/ground.h"

namespace dune::pipeline {

/// Ground outside the playable bounds, and faces that float over the level, lie within it or have nothing under them, the worst first,
/// thirty at most one by one. O(faces × triangles over a place).
std::vector<review::Finding> reviewHeights(const Ground& ground, Job& job);

}  // namespace dune::pipeline
