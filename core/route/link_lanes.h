#pragma once
// The ways over a link that is as wide as a stretch of border, as a search tries them: at places of it not far apart. Where between them
// the best one is, is found once the way is known (settle_way.h).

#include "core/nav/locator.h"

namespace dune::route {

constexpr double kLaneSpacing = 0.5;     ///< metres between two lanes at the most
constexpr double kBesideStretch = 0.02;  ///< metres that an edge may lie beside a stretch and still be what it is along

/// One way over a link.
struct LinkLane {
  double t = 0;  ///< where along its stretches, from -1 to 1
  nav::Place from, to;
};

/// At least two of a wide link, but for those whose ends are not on the ground; one of any other. O(lanes).
std::vector<LinkLane> lanesOf(const nav::Locator& locator, const nav::Link& link);

}  // namespace dune::route
