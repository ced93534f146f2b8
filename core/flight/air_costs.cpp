#include "core/flight/air_costs.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/slabs.h"

// A project has a handful of zones; a query asks some thousand times what a straight way costs.

namespace dune::flight {

namespace {

constexpr double kSideHair = 1e-6;  // m

/// How far outside of a box a place is along the axis where it is farthest; below zero within.
double outside(const Box3& box, const Vec3& p) {
  double most = -std::numeric_limits<double>::infinity();
  for (int i = 0; i < 3; ++i) most = std::max({most, box.min[i] - p[i], p[i] - box.max[i]});
  return most;
}

}  // namespace

bool makesSense(const AirZone& z) {
  return isFinite(z.box.min) && isFinite(z.box.max) && std::isfinite(z.cost) && z.cost > 0 && std::isfinite(z.entry) && z.entry >= 0;
}

AirCosts::AirCosts(std::vector<AirZone> zones, const Flyer& flyer) : zones_(std::move(zones)), stretch_(flyer.stretch()) {
  for (const AirZone& z : zones_) boxes_.push_back(flyer.stretched(z.box)), least_ = std::min(least_, z.cost);
}

/// Right on a side the dearer of both counts: cheap ways along a side lie just within, so that rounding makes them no dearer.
AirCosts::Air AirCosts::at(const Vec3& p) const {
  Air most{0, 0, kOpenAir};
  const auto take = [&](const Air& air) {
    if (air.cost > most.cost) most = air;
  };
  for (std::size_t z = zones_.size(); z-- > 0;) {
    const double off = outside(boxes_[z], p);
    if (off > kSideHair) continue;
    take({zones_[z].cost, zones_[z].entry, zones_[z].kind});
    if (off < -kSideHair) return most;
  }
  take({1, 0, kOpenAir});
  return most;
}

std::vector<double> AirCosts::changes(const Vec3& a, const Vec3& b) const {
  std::vector<double> found;
  const Slabs slabs(a, b);
  for (const Box3& box : boxes_) {
    const auto [enters, leaves] = slabs.within(box);
    if (enters >= leaves) continue;
    if (enters > 0) found.push_back(enters);
    if (leaves < 1) found.push_back(leaves);
  }
  std::sort(found.begin(), found.end());
  found.erase(std::unique(found.begin(), found.end()), found.end());
  return found;
}

double AirCosts::along(const Vec3& a, const Vec3& b) const {
  const Vec3 way = b - a;
  const double length = glm::length(Vec3(way.x, way.y / stretch_, way.z));
  if (!any()) return length;
  std::vector<double> parts = changes(a, b);
  parts.push_back(1);
  Air before = at(a);
  double cost = 0, from = 0;
  const auto come = [&](const Air& air) {
    if (air.kind != before.kind) cost += air.entry;
    before = air;
  };
  for (const double to : parts) {
    const Air air = at(a + way * ((from + to) / 2));
    come(air);
    cost += air.cost * (to - from) * length;
    from = to;
  }
  come(at(b));
  return cost;
}

bool AirCosts::isMixed(const Box3& box) const {
  for (const Box3& zone : boxes_)
    if (zone.overlaps(box) && !(zone.contains(box.min) && zone.contains(box.max))) return true;
  return false;
}

}  // namespace dune::flight
