#include "core/route/link_lanes.h"

#include <algorithm>

namespace dune::route {

namespace {

constexpr double kWidest = 500;  // m: of a wider one the lanes lie further apart
constexpr double kNear = 0.1;    // m that ground may be off the straight stretch

}  // namespace

std::vector<LinkLane> lanesOf(const nav::Locator& locator, const nav::Link& link) {
  if (link.width() == 0) return {{0, {link.fromFace, link.from}, {link.toFace, link.to}}};
  std::vector<LinkLane> lanes;
  const int parts = std::max(1, static_cast<int>(std::ceil(std::min(link.width(), kWidest) / kLaneSpacing)));
  for (int i = 0; i <= parts; ++i) {
    const double t = 2.0 * i / parts - 1;
    const LinkLane lane{t, locator.nearest(link.from + link.fromHalf * t, kNear), locator.nearest(link.to + link.toHalf * t, kNear)};
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
    const double in = cross(edge, middle - a) / length + kBesideStretch, turn = cross(edge, half) / length;
    if (turn > 0) part.from = std::max(part.from, -in / turn);
    if (turn < 0) part.until = std::min(part.until, in / -turn);
    if (turn == 0 && in < 0) return {};
  }
  return part;
}

}  // namespace dune::route
