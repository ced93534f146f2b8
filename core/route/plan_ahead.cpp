#include "core/route/plan_ahead.h"

#include <algorithm>

#include "core/route/search.h"

namespace dune::route {

namespace {

/// Of a way so many metres of links l count in plan and in space alike, and climb steep·l at most; the rest is over ground, no shorter than
/// distance and climb make together. The least over all l of |(distance, climb) - l·(1, steep)| + l.
double leastLength(double distance, double climb, double steep) {
  const double slant = std::hypot(1, steep), along = (distance + steep * climb) / slant,
               across = std::abs(climb - steep * distance) / slant;
  return along * steep <= across ? std::hypot(distance, climb) : (along + steep * across) / slant;
}

}  // namespace

PlanAhead::PlanAhead(const Field& field, Search& search, const nav::Place& start, const nav::Place& goal, double most)
    : field_(field), start_(start.position), goal_(goal.position), most_(most), perMetre_(field.perMetre(start.face)) {
  Job job;
  complete_ = search.spread(goal, most * perMetre_, true, views_, job, start);
  std::ranges::stable_sort(views_, {}, &SeenFrom::face);
}

double PlanAhead::inPlan(const nav::Place& place) const {
  const SearchGround& ground = field_.ground();
  const nav::Place there = ground.simple().at(field_.mesh(), place);
  const Vec2 p = plan(place.position);
  // What was not seen lies on ways that are too long.
  double least = std::max(0.0, most_ - glm::distance(p, plan(start_)));
  if (!there.valid()) return least;
  for (auto v = std::ranges::lower_bound(views_, there.face, {}, &SeenFrom::face); v != views_.end() && v->face == there.face; ++v) {
    const Vec2 bend = bendTowards(v->root, v->right, v->left, p);
    least = std::min(least, v->g / perMetre_ + glm::distance(v->root, bend) + glm::distance(bend, p));
  }
  return least;
}

double PlanAhead::inSpace(const nav::Place& place, double up, double down) const {
  const double rise = goal_.y - place.position.y;
  return leastLength(inPlan(place), std::abs(rise), rise > 0 ? up : down);
}

}  // namespace dune::route
