#include "core/crowd/clear_way.h"

#include <algorithm>
#include <array>

#include "core/base/plan_geometry.h"

namespace dune::crowd {

namespace {

constexpr double kView = 75;     // degrees to either side
constexpr int kDirections = 7;   // to either side
constexpr double kSight = 1.4;   // times as far others are seen, for they come nearer while one walks
constexpr double kSteady = 0.1;  // m that another direction has to be better by, a radian
constexpr double kBeside = 0.3;  // cosine past a right angle to which others are seen
constexpr double kNoWall = 0.2;  // m of free way for which no wall is looked for

/// How far it can walk a way before it touches one of the others.
double freeOfOthers(const Situation& s, std::span<const Seen> others, const Vec2& velocity, double most) {
  double soonest = most / glm::length(velocity);
  for (const Seen& o : others) soonest = std::min(soonest, timeToTouch(o.at - s.here(), velocity - o.velocity, s.radiusWith(o)));
  return soonest * glm::length(velocity);
}

struct Direction {
  double atLeast;  // what it is away from where it wants to be at the best, m
  double off;      // radians
  int k;
};

/// The most promising first, for most need not be looked at then: no place along a direction is nearer to one straight ahead than the foot
/// of the perpendicular from there.
std::array<Direction, 2 * kDirections + 1> byPromise(double ahead, double before) {
  constexpr double kRounding = 1e-9;  // m
  std::array<Direction, 2 * kDirections + 1> all;
  for (int k = -kDirections; k <= kDirections; ++k) {
    const double off = radians(kView) * k / kDirections;
    all[static_cast<std::size_t>(k + kDirections)] = {ahead * std::sin(std::abs(off)) + kSteady * std::abs(off - before) - kRounding, off,
                                                      k};
  }
  std::ranges::sort(all, {}, [](const Direction& d) { return std::pair(d.atLeast, d.k); });
  return all;
}

}  // namespace

double clearWay(const Situation& s, double ahead, double before) {
  const double speed = glm::length(s.body.wanted), straight = std::atan2(s.body.wanted.y, s.body.wanted.x);
  thread_local std::vector<Seen> others;
  others.clear();
  s.picture.eachNeighbour(s.self, kSight * ahead, [&](const Seen& o) {
    if (glm::dot(o.at - s.here(), s.body.wanted) > -kBeside * o.distance * speed) others.push_back(o);
  });
  double least = INFINITY, best = 0;
  int bestK = 0;
  for (const Direction& d : byPromise(ahead, before)) {
    if (d.atLeast > least) break;
    const double off = d.off;
    const Vec2 way{std::cos(straight + off), std::sin(straight + off)};
    double free = freeOfOthers(s, others, way * speed, ahead);
    if (free > kNoWall) {
      const nav::Ray ray = nav::castRay(s.mesh, s.body.place, s.here() + way * free, &s.rules);
      if (!ray.reached) free = glm::distance(plan(ray.end.position), s.here());
    }
    const double away = std::sqrt(ahead * ahead + free * free - 2 * ahead * free * std::cos(off)) + kSteady * std::abs(off - before);
    if (away < least || (away == least && d.k < bestK)) least = away, best = off, bestK = d.k;
  }
  return best;
}

}  // namespace dune::crowd
