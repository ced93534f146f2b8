#include "window/stops/routes/routes_stop.h"

#include "core/base/polyline.h"
#include "window/scene/theme.h"
#include "window/session/hand_made.h"
#include "window/stops/routes/route_picture.h"
#include "window/stops/routes/routes_sheet.h"

namespace dune::window {

RoutesStop::RoutesStop(Workspace& workspace, WorldView& view) : RoutesStop(workspace, view, new RoutesSheet(workspace)) {}

RoutesStop::RoutesStop(Workspace& workspace, WorldView& view, RoutesSheet* sheet)
    : TrailStop(workspace, tr("Routes"), sheet), own_(*sheet), route_(view, LayerOrder::marks) {}

StopState RoutesStop::state() const {
  const auto& kept = workspace_.project().routes->routes;
  std::size_t hold = 0;
  for (const project::KeptRoute& r : kept)
    if (const pipeline::KeptAnswer* k = workspace_.keptAnswer(r)) hold += k->unmet.empty();
  StopState s;
  s.words = kept.empty() ? tr("none kept") : tr("%1 of %2 hold").arg(hold).arg(kept.size());
  s.trouble = hold < kept.size() && workspace_.ground();
  return s;
}

void RoutesStop::draw(const Shown& shown, Topics changed) {
  if (!(changed & (Topic::answers | Topic::ground | Topic::agent | Topic::selection | Topic::stop | Topic::theme))) return;
  std::vector<WorldLabel> labels;
  DrawList list;
  const project::KeptRoute* kept = own_.showsKept() ? chosenRoute(workspace_) : nullptr;
  const pipeline::KeptAnswer* answer = kept ? workspace_.keptAnswer(*kept) : nullptr;
  if (shown.here && answer) {
    list = routeLayer(answer->answer, labels);
    if (answer->before) addDashed(list, answer->before->points, theme().bad);
    for (const project::Touch& t : kept->expected.touches)
      if (t.what == project::Touch::What::box) addBox(list, t, labels);
    if (!kept->expected.sameWay.empty()) addDashed(list, kept->expected.sameWay, theme().route);
  } else if (shown.here && own_.showsDistances()) {
    list = distancesLayer(own_.distances().place(), own_.distances().rings(), labels);
    for (const DistancesPage::Arrow& arrow : own_.distances().arrows()) addArrow(list, arrow.at, arrow.direction);
  } else if (shown.here && own_.showsMatrix()) {
    list = routeLayer(own_.matrix().answer(), labels);
  } else if (shown.here && !own_.showsKept() && workspace_.ground() && own_.path().asked()) {
    list = routeLayer(own_.answer(), labels);
    const PathPage& page = own_.path();
    for (const PathPage::Other& o : page.others())
      addWayOf(list, o.answer, theme().agent[o.agent % std::size(theme().agent)],
               QString::fromStdString(workspace_.project().agents->agents[o.agent].name), labels);
    addDashed(list, page.expected().points, theme().warning);
    if (!page.expected().points.empty())
      labels.push_back({placeAlong(page.expected().points, lengthOf(page.expected().points) / 2), tr("expected"), theme().warning});
    for (std::size_t i = 0; i + 1 < page.lit().size(); ++i)
      list.line(raised(page.lit()[i], 0.09), raised(page.lit()[i + 1], 0.09), 9, packed(theme().accent, 1));
  }
  route_.set(std::move(list), std::move(labels));
}

}  // namespace dune::window
