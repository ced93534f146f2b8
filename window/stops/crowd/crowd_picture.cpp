#include "window/stops/crowd/crowd_picture.h"

#include "window/scene/arrow.h"
#include "window/scene/theme.h"

namespace dune::window {

DrawList groupsLayer(const project::CrowdSection& crowd, int chosen) {
  DrawList list;
  list.lift = 2e-4;
  for (const project::CrowdGroup& g : crowd.groups) {
    const QColor colour = g.id == chosen ? theme().accent : theme().agent[static_cast<std::size_t>(g.id - 1) % 6];
    const std::uint32_t ink = packed(colour, 0.9);
    list.circle(raised(g.start), 0.35 + 0.12 * std::sqrt(g.count), 2.5, ink);
    list.circle(raised(g.goal), 0.3, 2.5, ink);
    list.circle(raised(g.goal), 0.12, 2.5, ink);
    const Vec3 from = raised(g.start, 0.1), to = raised(g.goal, 0.1);
    list.dashed(from, to, 0.4, g.id == chosen ? 3 : 1.5, ink);
    list.picks.push_back({thing(ThingKind::group, g.id), {from, to}});
  }
  return list;
}

DrawList bodiesLayer(const pipeline::Run& run, std::size_t frame, int chosen) {
  DrawList list;
  list.lit = true;
  list.lift = 2e-4;
  if (run.trace.frameCount() == 0) return list;
  const trace::Trace& trace = run.trace;
  const nav::Agent& kind = run.ground->mesh.agent;
  const std::size_t f = std::min(trace.frameCount() - 1, frame);
  for (std::size_t b = 0; b < trace.bodies().size(); ++b) {
    const trace::Sample s = trace.at(f, b);
    const bool followed = s.id == chosen;
    const double radius = trace.bodies()[b].radius > 0 ? trace.bodies()[b].radius : 0.3;
    QColor colour = followed ? theme().accent : theme().agent[static_cast<std::size_t>(std::max(0, trace.bodies()[b].group - 1)) % 6];
    if (s.state == crowd::State::arrived) colour = colour.lighter(theme().dark ? 80 : 135);
    const bool leans = kind.tilts && s.face != nav::kNoFace && nav::index(s.face) < run.ground->mesh.faceCount();
    list.body(s.at, radius, kind.height * 0.92, packed(colour, 1), leans ? nav::faceNormal(run.ground->mesh, s.face) : Vec3{0, 1, 0});
    if (s.state == crowd::State::stuck) list.circle(raised(s.at, kind.height + 0.1), radius * 1.2, 3, packed(theme().bad, 1));
    const Vec3 chest = raised(s.at, kind.height * 0.6);
    if (glm::length(s.velocity) > 0.05) arrow(list, chest, chest + s.velocity * 0.7, 2.5, packed(theme().border, 1));
    list.picks.push_back({thing(ThingKind::body, s.id), {s.at, raised(s.at, kind.height)}});
    if (followed) list.circle(raised(s.at), radius * 1.5, 3, packed(theme().accent, 1));
  }
  return list;
}

}  // namespace dune::window
