// What a search answers over prepared ground.

#include <algorithm>

#include "core/nav/walk.h"
#include "core/route/prepared_way.h"
#include "core/route/search.h"
#include "core/route/slope_search.h"
#include "core/route/trace_way.h"

namespace dune::route {

using nav::Place;

namespace {

constexpr double kRounded = 2e-7;  // of a length: floats of the table
constexpr double kLevel = 5e-7;    // of a length, by which a way that bends may be longer than one that does not, and is taken
constexpr double kNone = std::numeric_limits<double>::infinity();

}  // namespace

/// In space.
std::vector<WayPoint> Search::findPrepared(const Prepared& prepared, const Place& from, const Place& to) {
  lowerBound_ = kNone;
  reachedBound_ = false, made_ = 0;
  if (!from.valid() || !to.valid() || !field_.passable(from.face) || !field_.passable(to.face)) return {};
  const Prepared::End start = prepared.endAt(from), goal = prepared.endAt(to);
  const BendTable::Between over = prepared.overBends(start, goal, scratch_);
  SlopeSearch::Found straight{{}, over.length, true};
  // No way is shorter in space than in plan: one that bends and is level needs no comparison with those that do not.
  if (over.length > leastInPlan(from, to) * (1 + kLevel)) {
    if (!slopes_) slopes_ = std::make_unique<SlopeSearch>(field_);
    straight = slopes_->findStraight(from, to, over.length);
  }
  std::vector<WayPoint> way = std::move(straight.way);
  if (way.empty()) {
    if (over.length == kNone) return {};
    way = wayInSpace(prepared, over, start, goal, scratch_);
  }
  // Over lanes of wide links alone: no way over as many of these is shorter.
  const auto links = std::ranges::count_if(way, [](const WayPoint& p) { return p.link >= 0; });
  const double least = straight.least - prepared.beside() * static_cast<double>(std::max<std::ptrdiff_t>(1, links));
  lowerBound_ = least * (1 - kLevel) * field_.perMetre(way.front().face);
  return way;
}

/// The shortest way in plan between two places of the simple ground, where that is not straight.
std::optional<BendTable::Between> Search::overBendsInPlan(const Prepared& flat, const Place& start, const Place& goal) {
  if (isStraight(flat, start, goal)) return std::nullopt;
  return flat.overBends(flat.endAt(start), flat.endAt(goal), scratch_);
}

/// How long the way is at least between two places: as it is in plan, if that is prepared, and as the crow flies.
double Search::leastInPlan(const Place& from, const Place& to) {
  const double flown = glm::distance(from.position, to.position);
  const Prepared* flat = prepared(Measure::plan);
  if (!flat) return flown;
  const Place start = ground_.simple().at(field_.mesh(), from), goal = ground_.simple().at(field_.mesh(), to);
  if (!start.valid() || !goal.valid()) return flown;
  const auto over = overBendsInPlan(*flat, start, goal);
  return over ? std::max(flown, over->length * (1 - kRounded)) : flown;
}

/// From start_ to `goal` on the simple ground; empty where that is better searched for.
std::vector<WayPoint> Search::findPreparedInPlan(const Prepared& prepared, const Place& from, const Place& to, const Place& goal) {
  const auto over = overBendsInPlan(prepared, start_, goal);
  if (over && over->length == kNone) return {};
  std::vector<WayPoint> way;
  if (over)
    way = wayInPlan(field_, prepared, *over, from, to, scratch_);
  else
    traceStretch(field_, from, to, way);
  const double length = over ? over->length : glm::distance(plan(from.position), plan(to.position));
  lowerBound_ = std::max(length * (1 - kRounded), glm::distance(from.position, to.position)) * field_.perMetre(from.face);
  return way;
}

/// Whether the straight way in plan is one.
bool Search::isStraight(const Prepared& prepared, const Place& start, const Place& goal) {
  constexpr double kThere = 1e-6;  // metres before a corner of the border at which a line to it may end: rounding
  if (start.face == goal.face) return true;
  const nav::Ray ray = nav::castRay(ground_.mesh(), start, plan(goal.position));
  if (!ray.reached && glm::distance(plan(ray.end.position), plan(goal.position)) > kThere) return false;
  if (ray.end.face == goal.face) return true;
  const Prepared::End end = prepared.endAt(goal);
  prepared.sight().facets().around(end.facet, end.at, scratch_.around);
  return std::ranges::find(scratch_.around, ray.end.face, &Facet::face) != scratch_.around.end();
}

}  // namespace dune::route
