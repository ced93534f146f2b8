#pragma once
// Figures on the ground, where it is coloured by its cost.

#include "window/scene/layers.h"

namespace dune::window {

/// What the larger pieces of ground that is not plain cost, in figures.
std::vector<WorldLabel> costLabels(const nav::NavMesh& mesh, const nav::Rules& rules);

}  // namespace dune::window
