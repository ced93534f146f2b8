#include "core/crowd/steering_model.h"

#include <algorithm>

#include "core/base/plan_geometry.h"

namespace dune::crowd {

namespace {

/// Straight on, through anybody.
class NoSteering : public SteeringModel {
 public:
  Vec2 steer(const Situation& s, std::vector<float>&, Insight*) const override { return s.body.wanted; }
  bool avoids() const override { return false; }
};

/// Who goes first and is held up asks for room. Whom it touches gives way: aside where it comes towards it, for pushed back it would go
/// where it came from; along where both go the same way. Who has arrived steps aside for one who waits, and comes
/// back; where one at a time goes through there is no aside, and it goes on ahead of him.
void makeWay(const Situation& s, const Seen& other, std::vector<HalfPlane>& planes) {
  constexpr double kClose = 0.15, kFastest = 1, kAsks = 0.5, kGivesUp = 3;  // m, m/s, s of standing
  const Body& b = s.body;
  const double gap = other.distance - s.radiusWith(other);
  if (gap > kClose || other.distance < 1e-9 || s.picture.settled[other.number]) return;
  const bool rests = b.beenThere && !s.picture.beenThere[other.number];
  if (rests ? s.picture.waited[other.number] < kAsks : s.picture.goesFirst(s.self, other.number)) return;
  const Vec2 inward = (s.here() - other.at) / other.distance, wants = s.picture.wants[other.number];
  // Held up for long, or before one who rests, it has given up what it wants, and still wants it.
  const bool gaveUp = wants != Vec2{0} && (rests || s.picture.waited[other.number] > kGivesUp);
  const Vec2 aim = gaveUp ? glm::normalize(wants) * kFastest : s.picture.aims[other.number];
  const double asked = std::min(kFastest, glm::dot(aim, inward));
  if (asked <= 0.02) return;
  Vec2 way = inward;
  if (rests ? !b.passage : glm::dot(aim, b.wanted) < 0) way = (cross(aim, inward) >= 0 ? leftOf(aim) : -leftOf(aim)) / glm::length(aim);
  planes.push_back(atLeast(way, asked));
}

}  // namespace

const SteeringModel& noSteering() {
  static const NoSteering model;
  return model;
}

const SteeringModel& modelFor(Steering model) {
  switch (model) {
    case Steering::collisionTime:
      return collisionTimeSteering();
    case Steering::directionRing:
      return directionRingSteering();
    case Steering::feelers:
      return feelerSteering();
    case Steering::none:
      return noSteering();
    default:
      return reciprocalSteering();
  }
}

void addWalls(const Situation& s, std::vector<HalfPlane>& planes) {
  thread_local std::vector<nav::BorderEdge> edges;
  const Body& b = s.body;
  const double ahead = s.settings.wallAhead;
  nav::borderAround(s.mesh, b.place, b.who.speed * ahead + 0.05, &s.rules, edges);
  const Vec2 here = s.here();
  for (const nav::BorderEdge& e : edges) {
    const Vec2 line = e.b - e.a;
    const double length = glm::length(line), along = glm::dot(here - e.a, line) / (length * length);
    const double distance = cross(line, here - e.a) / length;
    if (length < 1e-9 || along < 0 || along > 1 || distance < -1e-6) continue;
    planes.push_back(atLeast(leftOf(line) / length, -std::max(0.0, distance) / ahead));
  }
}

void addObstacles(const Situation& s, std::vector<HalfPlane>& planes) {
  constexpr double kCare = 2;  // s ahead in which moving obstacles must not be touched
  s.picture.eachObstacle(s.self, s.settings.range, [&](const Footprint& print) {
    const Side side = sideAgainst(print, s.here(), s.body.who.radius + s.settings.spacing, s.body.velocity, kCare);
    planes.push_back(atLeast(side.normal, side.least));
  });
}

double foresight(const Body& b) {
  constexpr double kLeast = 0.5;
  const double wanted2 = glm::dot(b.wanted, b.wanted);
  const double getsOn = wanted2 > 0.0025 ? std::clamp(glm::dot(b.velocity, b.wanted) / wanted2, 0.0, 1.0) : 1;
  const double second = getsOn * getsOn, fourth = second * second;
  return kLeast + (1 - kLeast) * fourth * fourth;
}

void addCourtesy(const Situation& s, std::vector<HalfPlane>& planes) {
  for (const Seen& other : s.near) makeWay(s, other, planes);
}

double timeToTouch(const Vec2& apart, const Vec2& closing, double radius) {
  const double a = glm::dot(closing, closing), b = glm::dot(apart, closing), c = glm::dot(apart, apart) - radius * radius;
  if (b <= 0) return INFINITY;
  if (c <= 0) return 0;
  const double d = b * b - a * c;
  return d <= 0 ? INFINITY : (b - std::sqrt(d)) / a;
}

Vec2 withinWalls(const Situation& s, const Vec2& velocity) {
  thread_local std::vector<HalfPlane> planes;
  planes.clear();
  addWalls(s, planes);
  const std::size_t walls = planes.size();
  addObstacles(s, planes);
  addCourtesy(s, planes);
  return nearestAllowed(planes, walls, velocity, s.body.who.speed);
}

}  // namespace dune::crowd
