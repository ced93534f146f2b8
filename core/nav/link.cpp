#include "core/nav/link.h"

namespace dune::nav {

namespace {
constexpr double kJumpRise = 0.25;  // height of a jump's arc against its length
constexpr int kFlightPoints = 17;
}  // namespace

const char* kindName(LinkKind kind) {
  constexpr const char* kNames[] = {"jump", "drop", "climb"};
  return kNames[static_cast<std::size_t>(kind)];
}

std::optional<LinkKind> kindNamed(const std::string& name) {
  for (const auto kind : {LinkKind::jump, LinkKind::drop, LinkKind::climb})
    if (name == kindName(kind)) return kind;
  return std::nullopt;
}

std::vector<Vec3> flight(LinkKind kind, const Vec3& from, const Vec3& to) {
  if (kind == LinkKind::climb) {
    // Up or down along the wall at the upper end, then on to it.
    const Vec3& low = from.y < to.y ? from : to;
    const Vec3& high = from.y < to.y ? to : from;
    const Vec3 bend{low.x, high.y, low.z};
    return {from, bend, to};
  }
  std::vector<Vec3> points;
  const double rise = std::max(0.15, kJumpRise * glm::distance(plan(from), plan(to))) * (kind == LinkKind::drop ? 0.4 : 1);
  for (int i = 0; i < kFlightPoints; ++i) {
    const double t = static_cast<double>(i) / (kFlightPoints - 1);
    Vec3 p = glm::mix(from, to, t);
    // For a drop the fall comes late, as it does for a body that steps off a ledge.
    if (kind == LinkKind::drop) p.y = from.y + (to.y - from.y) * t * t;
    p.y += 4 * rise * t * (1 - t);
    points.push_back(p);
  }
  return points;
}

}  // namespace dune::nav
