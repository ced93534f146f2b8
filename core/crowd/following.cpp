#include "core/crowd/following.h"

#include <algorithm>

namespace dune::crowd {

namespace {

constexpr double kAskAgain = 0.5;       // s between questions of a body that lost its way
constexpr double kLost = 0.7;           // s without sight of the next corner after which the way is lost
constexpr double kAskSeldom = 8.0;      // s between those of one whose way will hardly be another
constexpr double kSightSlack = 0.002;   // m before a corner at which sight may end and still count as reaching it
constexpr double kSameStorey = 0.5;     // m of height by which what is seen may be off what is meant
constexpr double kNearCorner = 0.3;     // m before a corner: from there one has to see how the way goes on behind it
constexpr double kCarefully = 1e-5;     // m: who lost its way at a corner goes on when it sees the next one, or stands right on it
constexpr double kSettle = 0.35;        // s in which a body closes the last distance: no overshoot, no trembling
constexpr double kLeastArrival = 0.01;  // m
constexpr double kJammed = 1.0;         // s of standing after which another way is asked for
constexpr double kCostSlack = 1e-6;

}  // namespace

std::unique_ptr<route::Search> Following::takeSearch() {
  const std::scoped_lock lock(mutex_);
  if (searches_.empty()) return std::make_unique<route::Search>(field_);
  auto search = std::move(searches_.back());
  searches_.pop_back();
  return search;
}

double Following::dearestOf(const route::PathAnswer& answer) const {
  double dearest = 0;
  for (std::size_t i = 0; i < answer.stretches.size(); ++i) {
    const route::Stretch& s = answer.stretches[i];
    if (s.link >= 0 || (i == 0 && answer.stretches.size() > 1)) continue;
    dearest = std::max(dearest, field_.rules().of(s.kind).cost);
  }
  return dearest;
}

/// Where a body asks from. Right on a corner it would be on all ground that touches there, also on what it cannot walk over to.
nav::Place Following::within(const nav::Place& place) const {
  constexpr double kOnCorner = 1e-6, kInside = 1e-3;  // m
  if (!place.valid()) return place;
  for (std::size_t i = 0; i < mesh_.cornerCount(place.face); ++i)
    if (glm::distance(mesh_.cornerAt(place.face, i), place.position) < kOnCorner) {
      const Vec3 inwards = nav::middleOf(mesh_, place.face) - place.position;
      return {place.face,
              nav::nearestOnFace(mesh_, place.face, place.position + inwards * (kInside / std::max(kInside, glm::length(inwards))))};
    }
  return place;
}

void Following::ask(Body& b, double now) {
  std::unique_ptr<route::Search> search = takeSearch();
  route::PathAnswer answer = route::findPath(field_, *search, within(b.place), b.goal, {2, false, false, 0});
  {
    const std::scoped_lock lock(mutex_);
    searches_.push_back(std::move(search));
  }
  b.way = {std::move(answer.points), std::move(answer.links), answer.status, 1, dearestOf(answer)};
  b.askedAt = now;
  b.done = b.careful = false;
}

bool Following::sees(const nav::Ray& ray, const Vec3& target) const {
  return (ray.reached || glm::distance(plan(ray.end.position), plan(target)) <= kSightSlack) &&
         std::abs(ray.end.position.y - target.y) <= kSameStorey;
}

/// Whether the way goes on from where a ray to one of its corners ended. Where a wall ends in a point that another wall touches, a corner
/// is seen from the wrong side of it as well, and one would stand in the pocket between the two for ever.
bool Following::goesOn(const Body& b, const nav::Ray& ray, std::size_t corner) const {
  if (corner + 1 >= b.way.points.size() || b.way.linkAt(corner)) return true;
  const Vec3& after = b.way.points[corner + 1];
  return sees(nav::castRay(mesh_, ray.end, plan(after), &field_.rules()), after);
}

/// Where all ground costs the same the straight way is never dearer.
bool Following::straightIsAsCheap(const Body& b, const nav::Ray& straight) const {
  if (field_.isOfOneCost()) return true;
  const nav::Ray first = nav::castRay(mesh_, b.place, plan(b.way.points[b.way.next]), &field_.rules());
  if (!sees(first, b.way.points[b.way.next])) return true;
  const nav::Ray second = nav::castRay(mesh_, first.end, plan(b.way.points[b.way.next + 1]), &field_.rules());
  if (!sees(second, b.way.points[b.way.next + 1])) return true;
  return straight.cost <= (first.cost + second.cost) * (1 + kCostSlack);
}

void Following::skipCorners(Body& b, const nav::Rules& heeded) const {
  while (!b.way.atLast() && !b.way.linkAt(b.way.next)) {
    const Vec3& after = b.way.points[b.way.next + 1];
    const double within = b.careful ? std::min(kCarefully, b.who.passWithin) : b.who.passWithin;
    bool skip = glm::distance(plan(b.place.position), plan(b.way.points[b.way.next])) <= within;
    if (!skip) {
      const nav::Ray straight = nav::castRay(mesh_, b.place, plan(after), &heeded);
      skip = sees(straight, after) && goesOn(b, straight, b.way.next + 1) && straightIsAsCheap(b, straight);
    }
    if (!skip) return;
    ++b.way.next;
  }
}

bool Following::atFoot(const Body& b) const {
  return b.way.next < b.way.points.size() && b.way.linkAt(b.way.next) && !b.way.atLast() &&
         glm::distance(plan(b.place.position), plan(b.way.points[b.way.next])) < std::max(0.1, b.who.radius * 0.3) &&
         std::abs(b.place.position.y - b.way.points[b.way.next].y) < kSameStorey;
}

Vec2 Following::wanted(Body& b, double now, const nav::Rules& heeded) {
  if (b.way.points.empty() && now - b.askedAt >= b.askAfter) {
    ask(b, now);
    if (b.way.points.empty()) b.askAfter = std::min(std::max(kAskAgain, 2 * b.askAfter), kAskSeldom);
  }
  if (b.way.points.empty()) return Vec2{0};
  if (b.way.points.size() < 2) return settle(b, b.way.points.back());
  skipCorners(b, heeded);
  const nav::Ray ray = nav::castRay(mesh_, b.place, plan(b.way.points[b.way.next]), &heeded);
  const bool near = glm::distance(plan(b.place.position), plan(b.way.points[b.way.next])) < kNearCorner;
  const bool lost = !sees(ray, b.way.points[b.way.next]) || (near && !goesOn(b, ray, b.way.next)), jammed = b.standing > kJammed && !b.done;
  const bool strayed = b.way.dearest > 0 && isDearer(field_.perMetre(b.place.face), b.way.dearest);
  if (!lost && !jammed && !strayed) b.askAfter = kAskAgain;
  b.lostAt = !lost ? -1 : b.lostAt < 0 ? now : b.lostAt;
  // Who passed a corner in a wide arc slides along the wall for a moment until it sees the next one.
  if (((lost && now - b.lostAt > kLost) || jammed || strayed) && now - b.askedAt >= b.askAfter) {
    b.askAfter = std::min(2 * std::max(kAskAgain, b.askAfter), kAskSeldom);
    ask(b, now);
    if (b.way.points.size() < 2) return b.way.points.empty() ? Vec2{0} : settle(b, b.way.points.back());
    b.careful = true;
  }
  const Vec3& target = b.way.points[b.way.next];
  if (b.way.atLast()) return settle(b, target);
  b.done = false;
  const Vec2 to = plan(target) - plan(b.place.position);
  const double distance = glm::length(to);
  // A link is taken from its foot, which has to be met.
  const bool stops = b.way.linkAt(b.way.next) && !b.way.borderAt(b.way.next);
  const double speed = stops ? std::min(b.who.speed, std::max(0.3, distance / kSettle)) : b.who.speed;
  return distance > 1e-9 ? to / distance * speed : Vec2{0};
}

Vec2 Following::wantedAfter(Body& b, const nav::Place& quarry, double now, const nav::Rules& heeded) {
  constexpr double kLooks = 0.2;  // s between looks, at the most
  const Chase& chase = *b.who.chase;
  if (now - b.lookedAt >= std::min(chase.every, kLooks)) {
    b.lookedAt = now;
    b.seesQuarry = !chase.sight || sees(nav::castRay(mesh_, b.place, plan(quarry.position), &field_.rules()), quarry.position);
  }
  if (!b.seesQuarry) return wanted(b, now, heeded);
  const double apart = glm::distance(b.place.position, quarry.position);
  const bool beside = chase.beside != Vec2{0};  // as far as there is ground
  const Vec3 goal =
      beside ? nav::castRay(mesh_, quarry, plan(quarry.position) + chase.beside, &field_.rules()).end.position : quarry.position;
  const bool moved = glm::distance(goal, b.goal) > std::min(chase.moved, apart / 2), may = now - b.askedAt >= chase.every;
  if (b.way.points.empty())
    b.goal = goal;  // asked for below
  else if (moved && may)
    b.goal = goal, b.beenThere = false, ask(b, now);
  if (beside) return wanted(b, now, heeded);
  b.done = apart <= chase.keep;
  return b.done ? Vec2{0} : wanted(b, now, heeded);
}

/// Straight to the last place, slowing down so that it is met without overshooting.
Vec2 Following::settle(Body& b, const Vec3& last) const {
  const Vec2 to = plan(last) - plan(b.place.position);
  const double distance = glm::length(to), within = std::max(kLeastArrival, b.who.arriveWithin);
  const bool there = distance <= (b.done ? 2 * within : within) && std::abs(last.y - b.place.position.y) <= kSameStorey;
  b.done = there;
  if (there) return Vec2{0};
  const double braking = std::sqrt(b.who.acceleration * distance);
  return distance > 1e-9 ? to / distance * std::min({b.who.speed, distance / kSettle, braking}) : Vec2{0};
}

}  // namespace dune::crowd
