#include "window/stops/crowd/crowd_stop.h"

#include "window/stops/crowd/crowd_picture.h"
#include "window/stops/crowd/crowd_sheet.h"

namespace dune::window {

CrowdStop::CrowdStop(Workspace& workspace, WorldView& view)
    : TrailStop(workspace, tr("Crowd"), new CrowdSheet(workspace)), groups_(view, LayerOrder::marks), bodies_(view, LayerOrder::moving) {}

StopState CrowdStop::state() const {
  int bodies = 0;
  for (const project::CrowdGroup& g : workspace_.project().crowd->groups) bodies += g.count;
  const auto run = workspace_.run();
  StopState s;
  s.fresh = !run || workspace_.runFresh();
  s.words = bodies == 0 && !run ? tr("nobody yet")
            : !run              ? tr("%1 agents, not run").arg(bodies)
            : s.fresh           ? tr("%1 agents, %2 s").arg(run->trace.bodies().size()).arg(run->trace.duration(), 0, 'f', 0)
                                : tr("out of date: run again");
  if (workspace_.crowd().running()) s.work = workspace_.work().fraction();
  return s;
}

void CrowdStop::draw(const Shown& shown, Topics changed) {
  const Playback& playback = workspace_.playback();
  const Topics whole = Topic::selection | Topic::stop | Topic::theme;
  if (changed & (whole | Topic::crowd | Topic::level)) {
    const bool drawn = shown.here && workspace_.level();
    groups_.set(drawn ? groupsLayer(*workspace_.project().crowd, workspace_.selection().id(ThingKind::group)) : DrawList{});
  }
  if (changed & (whole | Topic::playback | Topic::run | Topic::level))
    bodies_.set(shown.backdrop.bodies && playback.run() ? bodiesLayer(*playback.run(), playback.frame(), playback.body()) : DrawList{});
}

}  // namespace dune::window
