#include "core/crowd/yard_places.h"

#include "core/base/least_cost_pairs.h"
#include "core/crowd/progress.h"

namespace dune::crowd {

bool leadsTo(const Floor& floor, const Yard& yard, const nav::Place& from, std::uint32_t to) {
  return nav::castRay(floor.mesh(), from, yard.at(to), &floor.rules()).reached;
}

namespace {

constexpr double kAcross = 8;      // times as bad: a place in another file than one's goal
constexpr double kExitStep = 0.5;  // m

/// The last place of a yard that a body's way leads over before it leaves it.
std::uint32_t exitOf(const Yard& yard, const Body& b) {
  Vec3 at = b.place.position;
  std::uint32_t last = yard.placeOf(at);
  for (std::size_t i = b.way.next; i < b.way.points.size() && !b.way.linkAt(i - 1); ++i) {
    const double far = glm::distance(at, b.way.points[i]);
    for (double s = kExitStep; s < far; s += kExitStep) {
      const std::uint32_t place = yard.placeOf(at + (b.way.points[i] - at) * (s / far));
      if (place == Yard::kNone) return last;
      last = place;
    }
    at = b.way.points[i];
  }
  return last;
}

/// To each of them a place of the yard of its own that a straight line leads to, all as near as can be; `across` is how much more metres
/// across the files count. Of those who want to one place, each to the side of it on which it is.
std::vector<std::uint32_t> placesFor(const Floor& floor, const Yard& yard, const std::vector<nav::Place>& all,
                                     const std::vector<nav::Place>& from, double across) {
  constexpr double kWithin = 3, kHidden = 1e4;  // m; m², as bad as what is farther, or behind a wall
  constexpr double kOwnSide = 1e-3;             // what the way there counts
  std::vector<double> costs;
  costs.reserve(all.size() * yard.size());
  for (std::size_t k = 0; k < all.size(); ++k)
    for (std::uint32_t i = 0; i < yard.size(); ++i) {
      const Vec2 off = yard.off(plan(all[k].position), i), way = yard.off(plan(from[k].position), i);
      const bool fits = glm::length(off) < kWithin && leadsTo(floor, yard, all[k], i);
      costs.push_back(off.x * off.x + across * off.y * off.y + (fits ? 0 : kHidden) + kOwnSide * glm::dot(way, way));
    }
  const auto pairs =
      leastCostPairs(all.size(), yard.size(), [&](std::size_t i, std::size_t place) { return costs[i * yard.size() + place]; });
  return {pairs.begin(), pairs.end()};
}

}  // namespace

std::vector<Shunted> shuntedIn(const Floor& floor, const Yard& yard, const std::vector<const Body*>& bodies) {
  std::vector<Shunted> all(bodies.size());
  std::vector<nav::Place> from, to, come;
  std::vector<std::size_t> staying;
  for (std::size_t m = 0; m < bodies.size(); ++m) {
    const Body& b = *bodies[m];
    from.push_back(b.place);
    nav::Place goal = goes(b) ? floor.field().locator().nearest(b.way.points.back(), 1) : b.place;
    if (!goal.valid()) goal = b.place;
    all[m].leaves = yard.placeOf(goal.position) == Yard::kNone;
    if (all[m].leaves)
      all[m].to = exitOf(yard, b);
    else
      staying.push_back(m), to.push_back(goal), come.push_back(b.place);
  }
  const auto begins = placesFor(floor, yard, from, from, 1), ends = placesFor(floor, yard, to, come, kAcross);
  for (std::size_t m = 0; m < all.size(); ++m) all[m].from = begins[m];
  for (std::size_t k = 0; k < staying.size(); ++k) all[staying[k]].to = ends[k];
  return all;
}

}  // namespace dune::crowd
