#include "window/stops/links/links_stop.h"

#include "window/stops/links/links_picture.h"
#include "window/stops/links/links_sheet.h"

namespace dune::window {

LinksStop::LinksStop(Workspace& workspace, WorldView& view)
    : TrailStop(workspace, tr("Links"), new LinksSheet(workspace)), links_(view, LayerOrder::marks) {}

StopState LinksStop::state() const {
  const std::size_t drawn = workspace_.project().links->links.size();
  const auto ground = workspace_.ground();
  const std::size_t broken = ground ? ground->broken.size() : 0;
  StopState s;
  const auto found = static_cast<std::size_t>(ground ? std::ranges::count(ground->mesh.links, true, &nav::Link::generated) : 0);
  s.words = broken  ? tr("%1, %2 broken").arg(drawn + found).arg(broken)
            : found ? tr("%1 drawn, %2 found").arg(drawn).arg(found)
            : drawn ? tr("%1 drawn").arg(drawn)
                    : tr("none");
  s.trouble = broken > 0;
  return s;
}

void LinksStop::draw(const Shown& shown, Topics changed) {
  if (!(changed & (Topic::links | Topic::ground | Topic::agent | Topic::level | Topic::selection | Topic::stop | Topic::theme))) return;
  std::vector<WorldLabel> labels;
  const bool drawn = shown.backdrop.links && workspace_.level();
  const int chosen = shown.here ? workspace_.selection().id(ThingKind::link) : -1;
  DrawList list = drawn ? linksLayer(workspace_.ground().get(), *workspace_.project().links, chosen, shown.here, labels) : DrawList{};
  if (!shown.here) labels.clear(), list.picks.clear();
  links_.set(std::move(list), std::move(labels));
}

}  // namespace dune::window
