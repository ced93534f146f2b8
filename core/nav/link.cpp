#include "core/nav/link.h"

#include <algorithm>
#include <cmath>

namespace dune::nav {

namespace {
constexpr double kJumpRise = 0.25;   // height of a jump's arc against its length
constexpr double kLeastRise = 0.15;  // m
constexpr double kMostOfWay = 0.8;   // of a jump's length that it may take until a body is past the edge
constexpr int kFlightPoints = 17;

/// Of the arc over the straight line. A body stands a radius before the edge and is past it a radius beyond; that far it must not sink.
double jumpRise(const Vec3& from, const Vec3& to, double radius) {
  const double length = glm::distance(plan(from), plan(to));
  const double past = length > 0 ? std::min(kMostOfWay, 2 * radius / length) : kMostOfWay;
  return std::max({kLeastRise, kJumpRise * length, std::abs(from.y - to.y) / (4 * (1 - past))});
}
}  // namespace

Vec3 nearestOnStretch(const Vec3& middle, const Vec3& half, const Vec3& p) {
  const double length2 = glm::dot(half, half);
  return length2 > 0 ? middle + half * std::clamp(glm::dot(p - middle, half) / length2, -1.0, 1.0) : middle;
}

const char* kindName(LinkKind kind) {
  constexpr const char* kNames[] = {"jump", "drop", "climb", "door", "teleport"};
  return kNames[static_cast<std::size_t>(kind)];
}

std::optional<LinkKind> kindNamed(const std::string& name) {
  for (std::size_t k = 0; k < kLinkKinds; ++k)
    if (const auto kind = static_cast<LinkKind>(k); name == kindName(kind)) return kind;
  return std::nullopt;
}

std::vector<Vec3> flight(LinkKind kind, const Vec3& from, const Vec3& to, double radius) {
  std::vector<Vec3> points;
  flight(kind, from, to, radius, points);
  return points;
}

void flight(LinkKind kind, const Vec3& from, const Vec3& to, double radius, std::vector<Vec3>& out) {
  const Vec3 &low = from.y < to.y ? from : to, &high = from.y < to.y ? to : from;
  switch (kind) {
    case LinkKind::door:
    case LinkKind::teleport:
      out.assign({from, to});
      return;
    case LinkKind::climb:  // up or down along the wall at the upper end, then on to it
      out.assign({from, {low.x, high.y, low.z}, to});
      return;
    case LinkKind::drop:  // down only once the body is past the edge
      out.assign({from, {high == from ? to.x : from.x, high.y, high == from ? to.z : from.z}, to});
      return;
    case LinkKind::jump:
      break;
  }
  out.clear();
  const double rise = jumpRise(from, to, radius);
  for (int i = 0; i < kFlightPoints; ++i) {
    const double t = static_cast<double>(i) / (kFlightPoints - 1);
    out.push_back(glm::mix(from, to, t) + Vec3{0, 4 * rise * t * (1 - t), 0});
  }
}

}  // namespace dune::nav
