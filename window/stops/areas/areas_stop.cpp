#include "window/stops/areas/areas_stop.h"

#include "window/stops/areas/areas_picture.h"

namespace dune::window {

AreasStop::AreasStop(Workspace& workspace, WorldView& view) : AreasStop(workspace, view, new AreasSheet(workspace)) {}

AreasStop::AreasStop(Workspace& workspace, WorldView& view, AreasSheet* sheet)
    : TrailStop(workspace, tr("Areas"), sheet), own_(*sheet), volumes_(view, LayerOrder::marks) {}

StopState AreasStop::state() const {
  const project::AreasSection& areas = *workspace_.project().areas;
  StopState s;
  s.words = areas.volumes.empty() ? tr("none drawn") : tr("%1 kinds, %2 drawn").arg(areas.kinds.size()).arg(areas.volumes.size());
  return s;
}

void AreasStop::draw(const Shown& shown, Topics changed) {
  if (!(changed & (Topic::areas | Topic::selection | Topic::stop | Topic::theme))) return;
  std::vector<WorldLabel> labels;
  DrawList list = shown.here ? areasLayer(*workspace_.project().areas, workspace_.selection().id(ThingKind::volume), labels) : DrawList{};
  volumes_.set(std::move(list), std::move(labels));
}

}  // namespace dune::window
