#pragma once
// The stops of the trail, in order. A new one is its folder and one row here.

#include <memory>
#include <vector>

#include "window/stops/trail_stop.h"

namespace dune::window {

std::vector<std::unique_ptr<TrailStop>> makeStops(Workspace& workspace, WorldView& view);

}  // namespace dune::window
