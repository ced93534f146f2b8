#pragma once
// The crowd in the world: groups as drawn, and the bodies of a run.

#include "window/scene/layers.h"

namespace dune::window {

/// From start to goal of each group.
DrawList groupsLayer(const project::CrowdSection& crowd, int chosen);
/// The bodies at a frame; those that tilt lean with the face that they are on.
DrawList bodiesLayer(const pipeline::Run& run, std::size_t frame, int chosen);

}  // namespace dune::window
