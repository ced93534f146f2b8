#include "window/stops/flight/flight_picture.h"

#include <cmath>

#include "window/scene/theme.h"

namespace dune::window {

namespace {

constexpr std::size_t kMostCells = 60000;
constexpr int kRim = 14;
constexpr double kMuchRoom = 5;  // radii: from there on there is much

QColor mixedColour(const QColor& a, const QColor& b, double share) {
  const auto mix = [&](int x, int y) { return static_cast<int>(x + (y - x) * share); };
  return {mix(a.red(), b.red()), mix(a.green(), b.green()), mix(a.blue(), b.blue())};
}

}  // namespace

void addVolume(DrawList& list, const Box3& b, const QColor& colour, bool chosen, DrawList* sides) {
  const std::uint32_t ink = packed(colour, 1);
  const auto corner = [&](int i) { return Vec3(i & 1 ? b.max.x : b.min.x, i & 2 ? b.max.y : b.min.y, i & 4 ? b.max.z : b.min.z); };
  for (int i = 0; i < 8; ++i)
    for (const int bit : {1, 2, 4})
      if (!(i & bit)) list.dashed(corner(i), corner(i | bit), 0.8, chosen ? 2.5 : 1.5, ink);
  if (!sides) return;
  constexpr int kSides[][4] = {{0, 1, 5, 4}, {2, 6, 7, 3}, {0, 2, 3, 1}, {4, 5, 7, 6}, {0, 4, 6, 2}, {1, 3, 7, 5}};
  for (const auto& side : kSides) {
    sides->triangle(corner(side[0]), corner(side[1]), corner(side[2]), packed(colour, 0.12));
    sides->triangle(corner(side[0]), corner(side[2]), corner(side[3]), packed(colour, 0.12));
  }
}

void addCells(DrawList& list, const flight::Space& space, double height) {
  Box3 plane;
  for (const Box3& b : space.boxes())
    plane.add(space.stretched({b.min.x, height, b.min.z})), plane.add(space.stretched({b.max.x, height, b.max.z}));
  std::size_t count = 0;
  const double radius = space.flyer().radius;
  for (const flight::NodeId n : space.touching(plane)) {
    const flight::Cell& cell = space.cell(n);
    const Box3 box = space.box(n);
    // Half open, so that of two cells that meet at the height one is drawn.
    if (space.part(n) == flight::kNoNode || box.max.y <= plane.min.y || cell.kind == flight::Cell::Kind::joint || ++count > kMostCells)
      continue;
    const Vec3 a = space.real(box.min), c = space.real(box.max);
    const bool free = cell.kind == flight::Cell::Kind::free;
    const Vec3 middle((box.min.x + box.max.x) / 2, plane.min.y, (box.min.z + box.max.z) / 2);
    const double clearance = space.obstacles().nearest(middle, kMuchRoom * radius).distance;
    const double room = std::clamp((clearance - radius) / ((kMuchRoom - 1) * radius), 0.0, 1.0);
    const QColor colour = mixedColour(theme().bad, theme().good, room);
    const Vec3 q[] = {{a.x, height, a.z}, {c.x, height, a.z}, {c.x, height, c.z}, {a.x, height, c.z}};
    const std::uint32_t fill = packed(colour, free ? 0.32 : 0.45), edge = packed(colour, 0.7);
    list.triangle(q[0], q[2], q[1], fill), list.triangle(q[0], q[3], q[2], fill);
    for (int i = 0; i < 4; ++i) list.line(q[i], q[(i + 1) % 4], 1, edge);
  }
}

void addGroup(DrawList& list, const project::FlyerGroup& group, bool chosen, std::vector<WorldLabel>& labels) {
  const QColor colour = chosen ? theme().accent : theme().agent[static_cast<std::size_t>(std::max(0, group.id)) % std::size(theme().agent)];
  const std::uint32_t ink = packed(colour, 0.9);
  std::vector<Vec3> way{group.start, group.goal};
  way.insert(way.end(), group.round.begin(), group.round.end());
  const double spread = std::max(0.5, group.spread);
  list.circle(group.start, spread, chosen ? 2.5 : 1.5, ink);
  for (std::size_t i = 1; i < way.size(); ++i) {
    list.dashed(way[i - 1], way[i], 0.6, chosen ? 2.5 : 1.5, ink);
    list.circle(way[i], 0.3, chosen ? 2.5 : 1.5, ink);
  }
  if (way.size() > 2) list.dashed(way.back(), way[1], 0.6, chosen ? 2.5 : 1.5, ink);
  list.picks.push_back({thing(ThingKind::flyerGroup, group.id), way});
  const QString name = group.name.empty() ? QObject::tr("Group %1").arg(group.id) : QString::fromStdString(group.name);
  labels.push_back({group.start + Vec3(0, 0.6, 0), QObject::tr("%1: %2").arg(name).arg(group.count), colour});
}

void addFlight(DrawList& list, const flight::Space& space, const flight::Way& way, std::vector<WorldLabel>& labels) {
  const QColor colour = way.found() ? theme().route : theme().warning;
  if (way.points.size() > 1) {
    list.polyline(way.points, 6, packed(colour, 1));
  }
  for (const Vec3& p : way.points) {
    const Vec3 below = p - Vec3(0, 200, 0);
    const flight::Obstacles::Hit hit =
        space.obstacles().firstHit(space.stretched(p), space.stretched(below), flight::Obstacles::Which::ofLevel);
    if (hit.barrier < 0) continue;
    const Vec3 foot = p + (below - p) * hit.along;
    list.dashed(p, foot, 0.25, 1.5, packed(colour, 0.8));
    list.circle(foot + Vec3(0, 0.03, 0), 0.25, 1.5, packed(colour, 0.8));
  }
  if (way.found() && way.points.size() > 1)
    labels.push_back({way.points[way.points.size() / 2] + Vec3(0, 0.6, 0), QObject::tr("%1 m").arg(way.length, 0, 'f', 1), colour});
}

void addWalkers(DrawList& list, const pipeline::Run& run, double time) {
  const auto movers = moversOf(run, time);
  const std::uint32_t ink = packed(theme().quiet, 1);
  for (const flight::Mover& m : movers)
    list.body(m.at - Vec3(0, m.halfHeight, 0), m.radius, 2 * m.halfHeight, ink, {0, 1, 0}, DrawList::shapeAmong(movers.size()));
}

void addFlyer(DrawList& list, const flight::Flyer& kind, const Vec3& at, double heading, double bank, double pitch, const QColor& colour) {
  const Vec3 ahead(std::cos(heading) * std::cos(pitch), std::sin(pitch), -std::sin(heading) * std::cos(pitch));
  const Vec3 level(std::sin(heading), 0, std::cos(heading));
  const Vec3 up0 = glm::cross(level, ahead);
  const Vec3 right = level * std::cos(bank) - up0 * std::sin(bank), up = up0 * std::cos(bank) + level * std::sin(bank);
  const auto place = [&](double a, double out, double high) {
    return at + (ahead * std::cos(a) + right * std::sin(a)) * (out * kind.radius) + up * (high * kind.halfHeight);
  };
  const Vec3 top = at + up * kind.halfHeight, bottom = at - up * kind.halfHeight;
  for (int i = 0; i < kRim; ++i) {
    const double a = 2 * kPi * i / kRim, b = 2 * kPi * (i + 1) / kRim;
    // A lens of three rings; the nose is darker.
    const bool nose = i == 0 || i == kRim - 1;
    const std::uint32_t upper = packed(nose ? colour.darker(190) : colour, 1), lower = packed(colour.darker(150), 1);
    const Vec3 rimA = place(a, 1, 0), rimB = place(b, 1, 0), highA = place(a, 0.7, 0.7), highB = place(b, 0.7, 0.7);
    const Vec3 lowA = place(a, 0.7, -0.7), lowB = place(b, 0.7, -0.7);
    list.triangle(rimA, rimB, highB, upper), list.triangle(rimA, highB, highA, upper), list.triangle(highA, highB, top, upper);
    list.triangle(rimB, rimA, lowA, lower), list.triangle(rimB, lowA, lowB, lower), list.triangle(lowB, lowA, bottom, lower);
  }
}

}  // namespace dune::window
