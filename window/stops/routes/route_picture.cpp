#include "window/stops/routes/route_picture.h"

#include <algorithm>

#include "window/scene/theme.h"

namespace dune::window {

void addDashed(DrawList& list, const std::vector<Vec3>& way, const QColor& colour) {
  for (std::size_t i = 0; i + 1 < way.size(); ++i) list.dashed(raised(way[i], 0.07), raised(way[i + 1], 0.07), 0.3, 3, packed(colour, 1));
}

void addWayOf(DrawList& list, const route::PathAnswer& answer, const QColor& colour, const QString& name, std::vector<WorldLabel>& labels) {
  if (answer.points.empty()) return;
  for (std::size_t i = 0; i + 1 < answer.points.size(); ++i) {
    const Vec3 a = raised(answer.points[i], 0.065), b = raised(answer.points[i + 1], 0.065);
    const bool link = std::ranges::count(answer.links, i, &route::LinkUse::enter) > 0;
    if (link) {
      list.dashed(a, b, 0.2, 3, packed(colour, 1));
      continue;
    }
    list.line(a, b, 6, packed(theme().casing, 0.7));
    list.line(raised(a, 0.003), raised(b, 0.003), 3.5, packed(colour, 1));
  }
  if (answer.status == route::PathStatus::complete) return;
  list.disc(raised(answer.points.back(), 0.08), 0.25, packed(colour, 1));
  labels.push_back({answer.points.back(), name, colour});
}

DrawList distancesLayer(const std::optional<Vec3>& place, const std::vector<route::Ring>& rings, std::vector<WorldLabel>& labels) {
  DrawList list;
  list.lift = 4e-4;
  if (!place) return list;
  for (const route::Ring& ring : rings) {
    const bool last = &ring == &rings.back();
    for (const auto& [p, q] : ring.pieces)
      list.line(raised(p, 0.06), raised(q, 0.06), last ? 4 : 2.5, packed(theme().route, last ? 1 : 0.8));
    if (!ring.pieces.empty()) {
      const Vec3 at = ring.pieces[ring.pieces.size() / 2].first;
      labels.push_back({at, QObject::tr("%1 m").arg(ring.distance, 0, 'f', ring.distance < 10 ? 1 : 0), theme().route});
    }
  }
  list.disc(raised(*place, 0.08), 0.3, packed(theme().route, 1));
  return list;
}

void addArrow(DrawList& list, const Vec3& at, const Vec2& direction) {
  constexpr double kLength = 0.7, kHead = 0.25;  // metres
  if (direction == Vec2{0}) return;
  const auto on = [&](const Vec2& by) { return raised(lift(plan(at) + by, at.y), 0.05); };
  const std::uint32_t ink = packed(theme().text, 0.6);
  const Vec2 tip = direction * (kLength / 2), side = leftOf(direction) * kHead / 2.0;
  list.line(on(-tip), on(tip), 1.5, ink);
  list.line(on(tip), on(tip - direction * kHead + side), 1.5, ink);
  list.line(on(tip), on(tip - direction * kHead - side), 1.5, ink);
}

void addBox(DrawList& list, const project::Touch& touch, std::vector<WorldLabel>& labels) {
  const QColor colour = touch.must ? theme().good : theme().bad;
  const Box3& b = touch.box;
  const auto corner = [&](int i) { return Vec3{i & 1 ? b.max.x : b.min.x, i & 2 ? b.max.y : b.min.y, i & 4 ? b.max.z : b.min.z}; };
  for (int i = 0; i < 8; ++i)
    for (const int axis : {1, 2, 4})
      if (!(i & axis)) list.dashed(corner(i), corner(i | axis), 0.2, 2, packed(colour, 1));
  labels.push_back({{(b.min.x + b.max.x) / 2, b.max.y, (b.min.z + b.max.z) / 2},
                    touch.must ? QObject::tr("must touch") : QObject::tr("must not touch"),
                    colour});
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
  for (const route::Opening& o : answer.openings) {
    list.line(raised(o.from, 0.08), raised(o.to, 0.08), 4, packed(theme().bad, 1));
    list.disc(raised(o.from, 0.08), 0.15, packed(theme().bad, 1));
    list.disc(raised(o.to, 0.08), 0.15, packed(theme().bad, 1));
    labels.push_back({(o.from + o.to) / 2.0, QObject::tr("would open here"), theme().bad});
  }
  labels.push_back({points.front(), QStringLiteral("start"), theme().route});
  labels.push_back({points.back(), answer.status == route::PathStatus::complete ? QStringLiteral("goal") : QStringLiteral("nearest place"),
                    theme().route});
  if (std::isfinite(answer.narrowest) && answer.narrowest > 0 && answer.narrowest < 3)
    labels.push_back({answer.narrowestAt, QStringLiteral("narrowest %1 m").arg(answer.narrowest, 0, 'f', 2), theme().warning});
  return list;
}

}  // namespace dune::window
