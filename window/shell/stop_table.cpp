#include "window/shell/stop_table.h"

#include "window/stops/agents/agents_stop.h"
#include "window/stops/areas/areas_stop.h"
#include "window/stops/crowd/crowd_stop.h"
#include "window/stops/flight/flight_stop.h"
#include "window/stops/level/level_stop.h"
#include "window/stops/links/links_stop.h"
#include "window/stops/mesh/mesh_stop.h"
#include "window/stops/review/review_stop.h"
#include "window/stops/routes/routes_stop.h"

namespace dune::window {

namespace {

using Make = std::unique_ptr<TrailStop> (*)(Workspace&, WorldView&);

template <class S>
std::unique_ptr<TrailStop> make(Workspace& workspace, WorldView& view) {
  return std::make_unique<S>(workspace, view);
}

constexpr Make kStops[] = {
    make<LevelStop>,  make<AgentsStop>, make<MeshStop>,   make<AreasStop>,  make<LinksStop>,
    make<RoutesStop>, make<CrowdStop>,  make<FlightStop>, make<ReviewStop>,
};

}  // namespace

std::vector<std::unique_ptr<TrailStop>> makeStops(Workspace& workspace, WorldView& view) {
  std::vector<std::unique_ptr<TrailStop>> stops;
  for (const Make make : kStops) stops.push_back(make(workspace, view));
  return stops;
}

}  // namespace dune::window
