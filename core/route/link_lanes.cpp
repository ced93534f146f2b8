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

}  // namespace dune::route
