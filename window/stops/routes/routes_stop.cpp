#include "window/stops/routes/routes_stop.h"

#include "window/stops/routes/route_picture.h"
#include "window/stops/routes/routes_sheet.h"

namespace dune::window {

RoutesStop::RoutesStop(Workspace& workspace, WorldView& view) : RoutesStop(workspace, view, new RoutesSheet(workspace)) {}

RoutesStop::RoutesStop(Workspace& workspace, WorldView& view, RoutesSheet* sheet)
    : TrailStop(workspace, tr("Routes"), sheet), own_(*sheet), route_(view, LayerOrder::marks) {}

StopState RoutesStop::state() const {
  const std::size_t kept = workspace_.project().routes->routes.size();
  const auto& answers = workspace_.answers().routes;
  const auto complete = static_cast<std::size_t>(
      std::ranges::count_if(answers, [](const pipeline::KeptAnswer& k) { return k.answer.status == route::PathStatus::complete; }));
  StopState s;
  s.words = kept == 0 ? tr("none kept") : tr("%1 of %2 complete").arg(complete).arg(kept);
  s.trouble = workspace_.ground() && complete < answers.size();
  return s;
}

void RoutesStop::draw(const Shown& shown, Topics changed) {
  if (!(changed & (Topic::answers | Topic::ground | Topic::agent | Topic::selection | Topic::stop | Topic::theme))) return;
  std::vector<WorldLabel> labels;
  DrawList list = shown.here && workspace_.ground() ? routeLayer(own_.answer(), labels) : DrawList{};
  route_.set(std::move(list), std::move(labels));
}

}  // namespace dune::window
