#include "window/scene/layers.h"

#include <algorithm>

#include "window/scene/theme.h"

namespace dune::window {

namespace {

const level::AreaKind* kindNamed(const project::AreasSection& areas, const std::string& name) {
  for (const level::AreaKind& k : areas.kinds)
    if (k.name == name) return &k;
  return nullptr;
}

/// Chevrons along a flight where it is one way, lozenges where both.
void marks(DrawList& list, const std::vector<Vec3>& flight, bool oneWay, std::uint32_t colour) {
  for (const double t : {0.3, 0.55, 0.8}) {
    const double at = t * static_cast<double>(flight.size() - 1);
    const auto i = std::min(static_cast<std::size_t>(at), flight.size() - 2);
    const Vec3 p = glm::mix(flight[i], flight[i + 1], at - static_cast<double>(i)), d = flight[i + 1] - flight[i];
    if (glm::length(d) < 1e-6) continue;
    const Vec3 ahead = glm::normalize(d);
    Vec3 side = glm::cross(ahead, Vec3{0, 1, 0});
    side = glm::length(side) < 0.05 ? Vec3{1, 0, 0} : glm::normalize(side);
    const double s = 0.2;
    if (oneWay) {
      list.line(p + ahead * s, p - ahead * s + side * s, 2.5, colour);
      list.line(p + ahead * s, p - ahead * s - side * s, 2.5, colour);
    } else {
      list.triangle(p + ahead * s, p + side * (0.6 * s), p - ahead * s, colour);
      list.triangle(p + ahead * s, p - ahead * s, p - side * (0.6 * s), colour);
    }
  }
}

void arrow(DrawList& list, const Vec3& from, const Vec3& to, double width, std::uint32_t colour) {
  const Vec3 d = to - from;
  const double length = glm::length(d);
  list.line(from, to, width, colour);
  if (length < 1e-6) return;
  const Vec3 ahead = d / length, side = glm::normalize(glm::cross(ahead, Vec3{0, 1, 0.001}));
  const double s = std::min(0.35, length * 0.4);
  list.line(to, to - ahead * s + side * (s * 0.6), width, colour);
  list.line(to, to - ahead * s - side * (s * 0.6), width, colour);
}

}  // namespace

DrawList areasLayer(const project::AreasSection& areas, int chosen, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 2e-4;
  for (const level::AreaVolume& v : areas.volumes) {
    const level::AreaKind* kind = kindNamed(areas, v.kind);
    const QColor colour = v.id == chosen ? theme().accent : kind ? kindColour(kind->colour).darker(theme().dark ? 90 : 130) : theme().bad;
    Vec2 middle{0};
    const double base = std::max(v.bottom, std::min(0.0, v.top));
    for (std::size_t i = 0, n = v.outline.size(); i < n; ++i) {
      const Vec2 &a = v.outline[i], &b = v.outline[(i + 1) % n];
      for (const double y : {base + kAbove, v.top})
        list.line(lift(a, y), lift(b, y), v.id == chosen ? 3 : 1.8, packed(colour, y == v.top ? 0.55 : 1));
      list.line(lift(a, base), lift(a, v.top), 1, packed(colour, 0.55));
      middle += a / static_cast<double>(n);
    }
    labels.push_back({lift(middle, base + 0.1), QString::fromStdString(v.kind), colour});
  }
  return list;
}

DrawList linksLayer(const pipeline::Ground* ground, const project::LinksSection& links, int chosen, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 2e-4;
  for (const links::HandLink& l : links.links) {
    const bool broken = ground && links::withId(ground->broken, l.id);
    const bool beyond = ground && links::withId(ground->beyond, l.id);
    const QColor colour = l.id == chosen ? theme().accent : broken ? theme().brokenLink : beyond ? theme().quiet : theme().link;
    const std::uint32_t ink = packed(colour, 1);
    const std::vector<Vec3> flight = nav::flight(l.kind, raised(l.from, 0.08), raised(l.to, 0.08));
    for (std::size_t i = 0; i + 1 < flight.size(); ++i) list.dashed(flight[i], flight[i + 1], 0.12, l.id == chosen ? 4 : 3, ink);
    marks(list, flight, l.oneWay, ink);
    list.circle(raised(l.from), 0.25, 2, ink);
    list.circle(raised(l.to), 0.25, 2, ink);
    if (beyond)
      labels.push_back({raised(l.to, 0.4), QObject::tr("not for %1").arg(QString::fromStdString(ground->mesh.agent.name)), theme().quiet});
    if (broken) labels.push_back({raised(l.to, 0.4), QStringLiteral("broken"), theme().brokenLink});
  }
  return list;
}

DrawList routeLayer(const route::PathAnswer& answer, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 4e-4;
  if (answer.points.empty()) return list;
  std::vector<Vec3> points;
  for (const Vec3& p : answer.points) points.push_back(raised(p, 0.06));
  std::size_t link = 0;
  for (std::size_t i = 0; i + 1 < points.size(); ++i) {
    while (link < answer.links.size() && answer.links[link].enter < i) ++link;
    if (link < answer.links.size() && answer.links[link].enter == i) {
      list.dashed(points[i], points[i + 1], 0.25, 5, packed(theme().route, 1));
      continue;
    }
    list.line(points[i], points[i + 1], 9, packed(theme().casing, 0.9));
  }
  link = 0;
  for (std::size_t i = 0; i + 1 < points.size(); ++i) {
    while (link < answer.links.size() && answer.links[link].enter < i) ++link;
    if (!(link < answer.links.size() && answer.links[link].enter == i))
      list.line(raised(points[i], 0.005), raised(points[i + 1], 0.005), 5, packed(theme().route, 1));
  }
  const std::uint32_t ink = packed(theme().route, 1);
  list.disc(points.front(), 0.3, ink);
  list.circle(points.back(), 0.4, 4, ink);
  list.disc(points.back(), 0.18, ink);
  if (answer.goal.moved() > 0.02 || answer.status != route::PathStatus::complete) {
    list.dashed(raised(answer.goal.asked, 0.06), points.back(), 0.2, 2.5, packed(theme().bad, 1));
    list.circle(raised(answer.goal.asked, 0.06), 0.4, 3, packed(theme().bad, 1));
  }
  labels.push_back({points.front(), QStringLiteral("start"), theme().route});
  labels.push_back({points.back(), answer.status == route::PathStatus::complete ? QStringLiteral("goal") : QStringLiteral("nearest place"),
                    theme().route});
  if (std::isfinite(answer.narrowest) && answer.narrowest < 3)
    labels.push_back({answer.narrowestAt, QStringLiteral("narrowest %1 m").arg(answer.narrowest, 0, 'f', 2), theme().warning});
  return list;
}

DrawList crowdLayer(const project::CrowdSection& crowd, const pipeline::Run* run, double frame, int chosenAgent, bool groups, bool wanted) {
  DrawList list;
  list.lit = true;
  list.lift = 2e-4;
  if (groups)
    for (const project::CrowdGroup& g : crowd.groups) {
      const std::uint32_t ink = packed(theme().agent[static_cast<std::size_t>(g.id - 1) % 6], 0.9);
      list.circle(raised(g.start), 0.35 + 0.12 * std::sqrt(g.count), 2.5, ink);
      list.circle(raised(g.goal), 0.3, 2.5, ink);
      list.circle(raised(g.goal), 0.12, 2.5, ink);
      const Vec3 from = raised(g.start, 0.1), to = raised(g.goal, 0.1);
      list.dashed(from, to, 0.4, 1.5, ink);
    }
  if (!run || run->trace.frameCount() == 0) return list;
  const trace::Trace& trace = run->trace;
  const nav::Agent& kind = run->ground->mesh.agent;
  const auto last = trace.frameCount() - 1;
  const auto f = std::min(last, static_cast<std::size_t>(std::max(0.0, frame)));
  for (std::size_t b = 0; b < trace.bodies().size(); ++b) {
    const trace::Sample s = trace.at(f, b);
    const bool chosen = s.id == chosenAgent;
    const double radius = trace.bodies()[b].radius > 0 ? trace.bodies()[b].radius : 0.3;
    QColor colour = chosen ? theme().accent : theme().agent[static_cast<std::size_t>(std::max(0, trace.bodies()[b].group - 1)) % 6];
    if (s.state == crowd::State::arrived) colour = colour.lighter(theme().dark ? 80 : 135);
    const bool leans = kind.tilts && s.face != nav::kNoFace && nav::index(s.face) < run->ground->mesh.faceCount();
    list.body(s.at, radius, kind.height * 0.92, packed(colour, 1), leans ? nav::faceNormal(run->ground->mesh, s.face) : Vec3{0, 1, 0});
    if (s.state == crowd::State::stuck) list.circle(raised(s.at, kind.height + 0.1), radius * 1.2, 3, packed(theme().bad, 1));
    const Vec3 chest = raised(s.at, kind.height * 0.6);
    if (glm::length(s.velocity) > 0.05) arrow(list, chest, chest + s.velocity * 0.7, 2.5, packed(theme().border, 1));
    if (wanted && glm::length(s.wanted) > 0.05) arrow(list, chest, chest + s.wanted * 0.7, 1.5, packed(theme().good, 1));
    if (!chosen) continue;
    const std::size_t from = f > 300 ? f - 300 : 0;
    for (std::size_t i = from; i + 3 < f; i += 3)
      list.line(raised(trace.at(i, b).at, 0.08), raised(trace.at(i + 3, b).at, 0.08), 3, packed(theme().accent, 0.8));
    list.circle(raised(s.at), radius * 1.5, 3, packed(theme().accent, 1));
  }
  return list;
}

DrawList cursorLayer(const ground::Explanation& e, const nav::Agent& agent) {
  DrawList list;
  list.lift = 3e-4;
  const bool fits = e.walkable();
  const QColor colour = fits ? theme().good : theme().bad;
  const Vec3 feet = raised(e.at, 0.02), crown = feet + Vec3{0, agent.height, 0};
  list.circle(feet, agent.radius, 2.5, packed(colour, 1));
  list.circle(crown, agent.radius, 1.2, packed(colour, 0.7));
  for (int i = 0; i < 4; ++i) {
    const double a = i * kPi / 2;
    const Vec3 out{agent.radius * std::cos(a), 0, agent.radius * std::sin(a)};
    list.line(feet + out, crown + out, 1.2, packed(colour, 0.7));
  }
  if (fits) {
    list.disc(feet, agent.radius, packed(colour, 0.5));
  } else {
    const double s = agent.radius * 0.7;
    list.line(feet + Vec3{-s, 0, -s}, feet + Vec3{s, 0, s}, 3, packed(colour, 1));
    list.line(feet + Vec3{-s, 0, s}, feet + Vec3{s, 0, -s}, 3, packed(colour, 1));
  }
  return list;
}

}  // namespace dune::window
