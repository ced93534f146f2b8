#include "window/stops/crowd/crowd_picture.h"

#include <algorithm>

#include "window/scene/arrow.h"
#include "window/scene/theme.h"

namespace dune::window {

namespace {

using project::CrowdGroup;
using project::GoalKind;
using project::StartForm;

QColor colourOf(int group) { return theme().agent[static_cast<std::size_t>(std::max(0, group - 1)) % 6]; }

void drawStart(DrawList& list, const CrowdGroup& g, std::uint32_t ink) {
  if (g.startForm == StartForm::ring) return list.circle(raised(g.start), g.startRadius, 2.5, ink);
  if (g.startForm == StartForm::line) {
    list.line(raised(g.start), raised(g.startEnd), 2.5, ink);
    return list.circle(raised(g.startEnd), 0.2, 2.5, ink);
  }
  list.circle(raised(g.start), 0.35 + 0.12 * std::sqrt(g.count), 2.5, ink);
}

/// The corners of the way that the group is to go.
std::vector<Vec3> wayOf(Workspace& workspace, const CrowdGroup& g) {
  std::vector<Vec3> way{g.start};
  if (g.goalKind == GoalKind::place || g.goalKind == GoalKind::around || g.goalKind == GoalKind::round) way.push_back(g.goal);
  if (g.goalKind == GoalKind::round) way.insert(way.end(), g.round.begin(), g.round.end());
  if (g.goalKind == GoalKind::group)
    for (const CrowdGroup* other : groupsOf(workspace))
      if (other->id == g.quarry) way.push_back(other->start);
  if (g.goalKind == GoalKind::object && workspace.level())
    for (const level::Object& o : workspace.level()->level->objects)
      if (o.name == g.object) way.push_back({o.bounds().centre().x, o.bounds().min.y, o.bounds().centre().z});
  return way;
}

void drawGoal(DrawList& list, const CrowdGroup& g, const std::vector<Vec3>& way, std::uint32_t ink) {
  for (std::size_t i = 1; i < way.size(); ++i) {
    list.circle(raised(way[i]), 0.3, 2.5, ink);
    list.circle(raised(way[i]), 0.12, 2.5, ink);
  }
  if (g.goalKind == GoalKind::around) list.circle(raised(g.goal), g.around, 1.5, ink);
  if (g.goalKind == GoalKind::across)  // each to the other side
    for (int i = 0; i < 4; ++i) {
      const double a = kPi * i / 4, r = std::max(1.0, g.startForm == StartForm::ring ? g.startRadius * 0.7 : 1.0);
      const Vec3 out{std::cos(a) * r, 0.1, std::sin(a) * r};
      list.dashed(g.start + out, g.start - Vec3{out.x, -0.1, out.z}, 0.4, 1.5, ink);
    }
}

void box(DrawList& list, const crowd::Footprint& print, std::uint32_t ink) {
  const Polygon around = print.round > 0 ? print.grown(0) : print.corners;
  const auto at = [&](std::size_t i, double y) { return lift(around[i % around.size()], y); };
  for (std::size_t i = 0; i < around.size(); ++i) {
    list.triangle(at(i, print.low), at(i + 1, print.low), at(i + 1, print.high), ink);
    list.triangle(at(i, print.low), at(i + 1, print.high), at(i, print.high), ink);
    if (i > 1) list.triangle(at(0, print.high), at(i - 1, print.high), at(i, print.high), ink);
  }
}

}  // namespace

std::vector<const CrowdGroup*> groupsOf(Workspace& workspace) {
  std::vector<const CrowdGroup*> groups;
  const std::string scene = workspace.scene();
  for (const CrowdGroup& g : workspace.project().crowd->groups)
    if (g.scene == scene) groups.push_back(&g);
  return groups;
}

std::vector<const project::CrowdObstacle*> obstaclesOf(Workspace& workspace) {
  std::vector<const project::CrowdObstacle*> obstacles;
  const std::string scene = workspace.scene();
  for (const project::CrowdObstacle& o : workspace.project().crowd->obstacles)
    if (o.scene == scene) obstacles.push_back(&o);
  return obstacles;
}

const nav::Agent& kindOf(Workspace& workspace, const CrowdGroup& group) {
  const auto& agents = workspace.project().agents->agents;
  const auto own = std::ranges::find(agents, group.agent, &project::AgentKind::id);
  return own == agents.end() ? workspace.agentKind() : *own;
}

DrawList groupsLayer(Workspace& workspace, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 2e-4;
  const int chosen = workspace.selection().id(ThingKind::group);
  for (const CrowdGroup* g : groupsOf(workspace)) {
    const QColor colour = g->id == chosen ? theme().accent : colourOf(g->id);
    const std::uint32_t ink = packed(colour, 0.9);
    const std::vector<Vec3> way = wayOf(workspace, *g);
    drawStart(list, *g, ink);
    drawGoal(list, *g, way, ink);
    std::vector<Vec3> line;
    for (const Vec3& p : way) line.push_back(raised(p, 0.1));
    for (std::size_t i = 0; i + 1 < line.size(); ++i) list.dashed(line[i], line[i + 1], 0.4, g->id == chosen ? 3 : 1.5, ink);
    if (g->goalKind == GoalKind::round && line.size() > 2) list.dashed(line.back(), line[1], 0.4, 1.5, ink);
    if (line.size() < 2) line.push_back(raised(g->start + Vec3{g->startForm == StartForm::ring ? g->startRadius : 0.3, 0, 0}, 0.1));
    list.picks.push_back({thing(ThingKind::group, g->id), line});
    if (g->id == chosen || !g->name.empty())
      labels.push_back(
          {raised(g->start, 0.4), g->name.empty() ? QObject::tr("Group %1").arg(g->id) : QString::fromStdString(g->name), colour});
  }
  return list;
}

DrawList tracksLayer(Workspace& workspace) {
  DrawList list;
  list.lift = 2e-4;
  const int chosen = workspace.selection().id(ThingKind::obstacle);
  for (const project::CrowdObstacle* o : obstaclesOf(workspace)) {
    const std::uint32_t ink = packed(o->id == chosen ? theme().accent : theme().obstacle, 1);
    std::vector<Vec3> line;
    for (const Vec3& p : o->track) line.push_back(raised(p, 0.08));
    if (line.size() > 2) line.push_back(line[0]);
    for (std::size_t i = 0; i + 1 < line.size(); ++i) list.dashed(line[i], line[i + 1], 0.25, 2.5, ink);
    for (const Vec3& p : o->track) list.circle(raised(p), 0.2, 2.5, ink);
    line.push_back(raised(o->track[0], o->size.y));
    list.picks.push_back({thing(ThingKind::obstacle, o->id), line});
  }
  return list;
}

DrawList obstaclesLayer(const std::vector<crowd::MovingObstacle>& obstacles, double time) {
  DrawList list;
  list.lit = true;
  for (const crowd::MovingObstacle& o : obstacles) box(list, crowd::footprint(o, crowd::whereabouts(o, time)), packed(theme().obstacle, 1));
  return list;
}

namespace {

std::vector<PickLine> bodyPicks(const pipeline::Run& run, std::size_t frame) {
  std::vector<PickLine> picks;
  for (std::size_t b = 0; b < run.trace.bodies().size(); ++b)
    if (const trace::Sample s = run.trace.at(frame, b); run.trace.isThere(frame, b))
      picks.push_back({thing(ThingKind::body, s.id), {s.at, raised(s.at, run.groundOf(b).mesh.agent.height)}});
  return picks;
}

}  // namespace

DrawList bodiesLayer(const std::shared_ptr<const pipeline::Run>& of, std::size_t frame, const std::vector<int>& chosen, bool trails) {
  const pipeline::Run& run = *of;
  constexpr std::size_t kTrail = 90, kEvery = 3;  // frames
  DrawList list;
  list.lit = true;
  list.lift = 2e-4;
  if (run.trace.frameCount() == 0) return list;
  const trace::Trace& trace = run.trace;
  const std::size_t f = std::min(trace.frameCount() - 1, frame);
  const DrawList::Shape shape = DrawList::shapeAmong(trace.bodies().size());
  const bool many = shape != DrawList::Shape::round;  // no velocities then
  list.triangles.reserve(trace.bodies().size() * DrawList::bodyVertices(shape));
  list.picksLater = [of, f] { return bodyPicks(*of, f); };
  for (std::size_t b = 0; b < trace.bodies().size(); ++b) {
    const trace::Sample s = trace.at(f, b);
    if (s.state == crowd::State::waiting && !trace.isThere(f, b)) continue;
    const nav::NavMesh& mesh = run.groundOf(b).mesh;
    const nav::Agent& kind = mesh.agent;
    const bool followed = std::ranges::binary_search(chosen, s.id);
    const double radius = trace.bodies()[b].radius > 0 ? trace.bodies()[b].radius : 0.3;
    QColor colour = followed ? theme().accent : colourOf(trace.bodies()[b].group);
    if (trails)
      for (std::size_t k = f > kTrail ? f - kTrail : 0; k + kEvery <= f; k += kEvery)
        list.line(raised(trace.at(k, b).at), raised(trace.at(k + kEvery, b).at), 2, packed(colour, 0.7));
    if (s.state == crowd::State::arrived) colour = colour.lighter(theme().dark ? 80 : 135);
    const bool leans = kind.tilts && s.face != nav::kNoFace && nav::index(s.face) < mesh.faceCount();
    list.body(s.at, radius, kind.height * 0.92, packed(colour, 1), leans ? nav::faceNormal(mesh, s.face) : Vec3{0, 1, 0}, shape);
    if (s.state == crowd::State::stuck) list.circle(raised(s.at, kind.height + 0.1), radius * 1.2, 3, packed(theme().bad, 1));
    if (const Vec3 chest = raised(s.at, kind.height * 0.6); (!many || followed) && glm::length(s.velocity) > 0.05)
      arrow(list, chest, chest + s.velocity * 0.7, 2.5, packed(theme().border, 1));
    if (followed) list.circle(raised(s.at), radius * 1.5, 3, packed(theme().accent, 1));
  }
  return list;
}

DrawList insightLayer(const pipeline::Run& run, std::size_t frame, std::size_t body, const crowd::Insight& insight) {
  constexpr double kScale = 1.2;  // metres drawn for a metre a second
  DrawList list;
  list.lift = 4e-4;
  list.cut = false;
  const trace::Sample s = run.trace.at(frame, body);
  const double height = run.groundOf(body).mesh.agent.height;
  const Vec3 at = raised(s.at, height + 0.15);
  const auto there = [&](const Vec2& v) { return at + lift(v * kScale, 0); };
  const std::uint32_t wanted = packed(theme().good, 1), decided = packed(theme().accent, 1), taken = packed(theme().border, 1),
                      quiet = packed(theme().text, 0.45), danger = packed(theme().bad, 0.9);
  for (const std::size_t other : insight.heeded) list.line(raised(s.at, 0.3), raised(run.trace.at(frame, other).at, 0.3), 1.5, quiet);
  if (insight.ledTo) {
    constexpr double kMark = 0.25;  // m
    const Vec3 place = raised(lift(*insight.ledTo, s.at.y), 0.1);
    list.line(raised(s.at, 0.1), place, 2, wanted);
    for (const Vec2& side : {Vec2{kMark, kMark}, Vec2{kMark, -kMark}}) list.line(place - lift(side, 0), place + lift(side, 0), 3, wanted);
  }
  constexpr double kReach = 1.6;  // m/s
  for (const crowd::HalfPlane& p : insight.planes) {
    // The line that bounds what is allowed, as far as it comes near the body, with a tooth on the side that is not.
    const double along = glm::dot(-p.point, p.direction);
    const Vec2 middle = p.point + p.direction * along;
    const double off = glm::length(middle);
    if (off > kReach) continue;
    const double half = std::sqrt(kReach * kReach - off * off);
    list.line(there(middle - p.direction * half), there(middle + p.direction * half), 1.5, danger);
    list.line(there(middle), there(middle - leftOf(p.direction) * 0.15), 1.5, danger);
  }
  for (const crowd::Insight::Spoke& spoke : insight.ring) {
    list.line(there(spoke.direction * 0.6), there(spoke.direction * (0.6 + 0.9 * spoke.attraction)), 3, wanted);
    list.line(there(spoke.direction * 0.6), there(spoke.direction * (0.6 - 0.4 * spoke.danger)), 3, danger);
  }
  for (const crowd::Insight::Feeler& f : insight.feelers)
    list.line(lift(f.from, s.at.y + 0.3), lift(f.to, s.at.y + 0.3), f.taken ? 3.5 : 1.5, f.free ? wanted : danger);
  for (const Vec2& push : insight.pushes)
    if (glm::length(push) > 0.05) arrow(list, at, there(push * 0.2), 1.5, danger);
  if (glm::length(insight.wanted) > 0.05) arrow(list, at, there(insight.wanted), 3, wanted);
  if (glm::length(insight.decided) > 0.05) arrow(list, at, there(insight.decided), 3, decided);
  if (glm::length(insight.taken) > 0.05) arrow(list, raised(at), raised(there(insight.taken)), 4, taken);
  return list;
}

}  // namespace dune::window
