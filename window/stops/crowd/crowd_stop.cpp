#include "window/stops/crowd/crowd_stop.h"

#include "window/stops/crowd/crowd_picture.h"
#include "window/stops/crowd/crowd_sheet.h"

namespace dune::window {

CrowdStop::CrowdStop(Workspace& workspace, WorldView& view)
    : TrailStop(workspace, tr("Crowd"), new CrowdSheet(workspace)),
      view_(view),
      groups_(view, LayerOrder::marks),
      tracks_(view, LayerOrder::marks),
      obstacles_(view, LayerOrder::moving),
      a_(view, Side::left),
      b_(view, Side::right) {}

StopState CrowdStop::state() const {
  int bodies = 0;
  for (const project::CrowdGroup* g : groupsOf(workspace_)) bodies += g->count;
  const auto run = workspace_.crowdRun();
  StopState s;
  s.fresh = !run || workspace_.runFresh();
  s.words = bodies == 0 && !run ? tr("nobody yet")
            : !run              ? tr("%1 agents, not run").arg(bodies)
            : s.fresh           ? tr("%1 agents, %2 s").arg(run->trace.bodies().size()).arg(run->trace.duration(), 0, 'f', 0)
                                : tr("out of date: run again");
  if (workspace_.crowd().running()) s.work = workspace_.work().fraction();
  if (const auto live = workspace_.crowd().live()) s.words = tr("walking, %1 s").arg(live->trace.duration(), 0, 'f', 0);
  return s;
}

void CrowdStop::draw(const Shown& shown, Topics changed) {
  const Playback& playback = workspace_.playback();
  const Topics whole = Topic::selection | Topic::stop | Topic::theme;
  if (changed & (whole | Topic::crowd | Topic::agents | Topic::level)) drawGroups(shown.here && workspace_.level());
  const std::shared_ptr<const pipeline::Run> live = workspace_.crowd().live();
  const bool bodies = shown.backdrop.bodies && (live || playback.run());
  if (changed & (whole | Topic::run | Topic::crowd | Topic::playback)) nameSides(bodies && !live);
  if (!(changed & (whole | Topic::playback | Topic::run | Topic::crowd | Topic::level | Topic::insight))) return;
  if (live) {
    a_.bodies.set(bodies ? bodiesLayer(live, 0, playback.bodies(), false) : DrawList{});
    for (Layer* l : {&a_.insight, &b_.bodies, &b_.insight}) l->set(DrawList{});
  } else {
    drawWorld(a_, bodies ? playback.run() : nullptr, false);
    drawWorld(b_, bodies ? playback.other() : nullptr, true);
  }
  std::vector<crowd::MovingObstacle> moving;
  if (bodies)
    moving = (live ? live : playback.run())->obstacles;
  else if (shown.here)
    for (const project::CrowdObstacle* o : obstaclesOf(workspace_)) moving.push_back(*o);
  obstacles_.set(obstaclesLayer(moving, live ? live->trace.duration() : bodies ? playback.time() : 0));
}

void CrowdStop::drawGroups(bool here) {
  std::vector<WorldLabel> labels;
  groups_.set(here ? groupsLayer(workspace_, labels) : DrawList{}, std::move(labels));
  tracks_.set(here ? tracksLayer(workspace_) : DrawList{});
}

void CrowdStop::drawWorld(World& world, const std::shared_ptr<const pipeline::Run>& run, bool other) {
  const Playback& playback = workspace_.playback();
  world.bodies.set(run ? bodiesLayer(run, playback.frameOf(*run), playback.bodies(), playback.trails()) : DrawList{});
  const auto& insight = workspace_.insights().of(other);
  const bool seen = run && insight && insight->run == run && workspace_.insights().on();
  world.insight.set(seen ? insightLayer(*run, insight->frame, insight->body, insight->insight) : DrawList{});
}

void CrowdStop::nameSides(bool shown) {
  const Playback& playback = workspace_.playback();
  if (!shown || !playback.run() || !playback.other()) return view_.setSides({}, {});
  if (const auto& compared = workspace_.crowd().compared())
    return view_.setSides(tr("A: %1").arg(workspace_.crowd().nameOf(*playback.run())),
                          tr("B: %1").arg(workspace_.crowd().nameOf(*compared)));
  const auto& other = workspace_.project().crowd->other;
  if (!other) return view_.setSides({}, {});
  const auto groups = groupsOf(workspace_);
  const QString a = groups.empty() ? QString() : steeringTitle(groups[0]->steering.model);
  view_.setSides(tr("A: %1").arg(a), tr("B: %1").arg(steeringTitle(other->model)));
}

}  // namespace dune::window
