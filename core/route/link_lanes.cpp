#include "core/route/link_lanes.h"

#include <algorithm>

#include "core/nav/walk.h"

namespace dune::route {

namespace {

constexpr double kWidest = 500;   // m: of a wider one the lanes lie further apart
constexpr double kInside = 1e-3;  // m from the border to where one walks along it
constexpr double kNear = 0.03;    // m in plan and 0.1 in height by which the ground may be off the straight stretch
constexpr double kNearHeight = 0.1;
constexpr double kSlack = 2e-3;  // m outside a face that count as in it: stretches lie on its border

/// The place of the ground at a place of a stretch, walked to from its middle; not valid where it is none.
nav::Place placeAt(const nav::NavMesh& mesh, const nav::Place& middle, const Vec3& at, const Vec2& inwards) {
  const nav::Place start{middle.face, nav::nearestOnFace(mesh, middle.face, middle.position + lift(inwards * kInside, 0))};
  const nav::Place end = nav::castRay(mesh, start, plan(at) + inwards * kInside).end;
  const Vec3 there = nav::nearestOnFace(mesh, end.face, at);
  const Vec3 off = there - at;
  return glm::length(plan(off)) <= kNear && std::abs(off.y) <= kNearHeight ? nav::Place{end.face, there} : nav::Place{};
}

}  // namespace

std::vector<LinkLane> lanesOf(const nav::NavMesh& mesh, const nav::Link& link) {
  if (link.width() == 0) return {{0, {link.fromFace, link.from}, {link.toFace, link.to}}};
  std::vector<LinkLane> lanes;
  const Vec2 way = plan(link.to) - plan(link.from);
  const Vec2 ahead = glm::length(way) > 0 ? glm::normalize(way) : Vec2{0};
  const int parts = std::max(1, static_cast<int>(std::ceil(std::min(link.width(), kWidest) / kLaneSpacing)));
  for (int i = 0; i <= parts; ++i) {
    const double t = 2.0 * i / parts - 1;
    const LinkLane lane{t, placeAt(mesh, {link.fromFace, link.from}, link.from + link.fromHalf * t, -ahead),
                        placeAt(mesh, {link.toFace, link.to}, link.to + link.toHalf * t, ahead)};
    if (lane.from.valid() && lane.to.valid()) lanes.push_back(lane);
  }
  return lanes;
}

StretchPart stretchIn(const nav::NavMesh& mesh, nav::FaceId face, const Vec2& middle, const Vec2& half) {
  StretchPart part{-1, 1};
  for (std::size_t i = 0, n = mesh.cornerCount(face); i < n; ++i) {
    const Vec2 a = plan(mesh.cornerAt(face, i)), edge = plan(mesh.cornerAt(face, (i + 1) % n)) - a;
    const double length = glm::length(edge);
    if (length == 0) continue;
    // Left of the edge, or hardly right of it: in + turn · t >= 0.
    const double in = cross(edge, middle - a) / length + kSlack, turn = cross(edge, half) / length;
    if (turn > 0) part.from = std::max(part.from, -in / turn);
    if (turn < 0) part.until = std::min(part.until, in / -turn);
    if (turn == 0 && in < 0) return {};
  }
  return part;
}

}  // namespace dune::route
