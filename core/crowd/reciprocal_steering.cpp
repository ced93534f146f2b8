// Reciprocal avoidance by half-planes.
//
// Source: van den Berg, Guy, Lin & Manocha, "Reciprocal n-body collision avoidance", ISRR 2011. Ours on top of it: who goes first does less
// of what keeps two apart, so that symmetric meetings are resolved; who is held up looks at the next step only, for with much care nobody
// moves; who touches one that goes first gives way.

#include <algorithm>

#include "core/base/plan_geometry.h"
#include "core/crowd/clear_way.h"

namespace dune::crowd {

namespace {

Vec2 turned(const Vec2& v, double angle) {
  const double c = std::cos(angle), s = std::sin(angle);
  return {v.x * c - v.y * s, v.x * s + v.y * c};
}

/// Whether one of the others comes towards it from ahead: then all keep to one side, but for whom others have to make way.
bool meetsSomebody(const Situation& s) {
  const double speed = glm::length(s.body.wanted);
  return speed > 0 && std::ranges::any_of(s.near, [&](const Seen& other) {
           const Vec2 apart = other.at - s.here();
           if (s.picture.priority[other.number] < s.body.who.priority) return false;
           return glm::dot(apart, s.body.wanted) > 0.5 * other.distance * speed && glm::dot(other.velocity, s.body.wanted) < -0.1 * speed;
         });
}

/// How much of what keeps two bodies apart is this one's to do. Who has arrived gives way less; else who is nearer to the next corner of
/// its way goes first, so that nobody waits for one who waits for him.
double share(const Situation& s, const Seen& other) {
  const bool iRest = s.body.beenThere || s.body.state == State::waiting;
  const bool otherRests = s.picture.beenThere[other.number] || s.picture.shown[other.number].state == State::waiting;
  if (otherRests != iRest) {
    const bool sameGoal = glm::distance(s.picture.goals[s.self], s.picture.goals[other.number]) < 2 * s.radiusWith(other);
    const bool closesUp = sameGoal && !s.picture.presses[s.self] && !s.picture.presses[other.number];
    return otherRests == closesUp ? 0.9 : 0.1;
  }
  const bool first = s.picture.goesFirst(s.self, other.number);
  if (s.picture.priority[s.self] != s.picture.priority[other.number]) return first ? 0.05 : 0.95;
  return first ? 0.25 : 0.75;
}

/// The half-plane of velocities with which two bodies do not touch within the time to look ahead (section 4 of the source).
HalfPlane against(const Situation& s, const Seen& other) {
  const Body& b = s.body;
  const Vec2 apart = other.at - s.here(), relative = b.velocity - other.velocity;
  const double radius = s.radiusWith(other) + s.settings.spacing, distance2 = glm::dot(apart, apart);
  const double ahead = s.settings.lookAhead * foresight(b);
  Vec2 change, direction;
  if (distance2 > radius * radius) {
    const Vec2 w = relative - apart / ahead;
    const double w2 = glm::dot(w, w), along = glm::dot(w, apart);
    if (along < 0 && along * along > radius * radius * w2) {
      const double length = std::sqrt(w2);  // the round front of the cone
      const Vec2 unit = w / length;
      direction = {unit.y, -unit.x};
      change = unit * (radius / ahead - length);
    } else {
      const double leg = std::sqrt(distance2 - radius * radius);
      if (cross(apart, w) > 0)
        direction = Vec2{apart.x * leg - apart.y * radius, apart.x * radius + apart.y * leg} / distance2;
      else
        direction = -Vec2{apart.x * leg + apart.y * radius, -apart.x * radius + apart.y * leg} / distance2;
      change = direction * glm::dot(relative, direction) - relative;
    }
  } else {
    // Already touching: part within a few steps. Bodies on one spot part by their numbers.
    const double part = std::max(s.dt, 0.1);
    const Vec2 w = relative - apart / part;
    const double length = glm::length(w);
    const Vec2 unit = length > 1e-9 ? w / length : Vec2{b.who.id < s.bodies[other.number].who.id ? 1.0 : -1.0, 0};
    direction = {unit.y, -unit.x};
    change = unit * (radius / part - length);
  }
  return {b.velocity + change * share(s, other), direction};
}

/// Radians to the way that is free the farthest, as it was found last. In lanes and before doors it goes where its turn is.
double turnsAside(const Situation& s, std::vector<float>& memory) {
  constexpr int kEvery = 6;      // steps between looks
  constexpr double kGoes = 0.5;  // of its speed: who goes slower is about to arrive, or waits
  const std::optional<Narrow>& narrow = s.picture.narrows[s.self];
  const bool led = (s.body.lane && s.body.lane->oncoming) || (narrow && narrow->width < 1.8 * s.body.who.radius);
  if (s.settings.clearAhead <= 0 || led || glm::length(s.body.wanted) <= kGoes * s.body.who.speed) {
    memory.clear();
    return 0;
  }
  if (memory.empty()) memory = {0, static_cast<float>(s.self % kEvery)};
  if (memory[1] <= 0) memory = {static_cast<float>(clearWay(s, s.settings.clearAhead, static_cast<double>(memory[0]))), kEvery};
  memory[1] -= 1;
  return static_cast<double>(memory[0]);
}

class ReciprocalSteering : public SteeringModel {
 public:
  Vec2 steer(const Situation& s, std::vector<float>& memory, Insight* insight) const override {
    const bool alone = s.near.empty() && s.picture.obstacles.empty();
    if (alone) return s.body.wanted;
    thread_local std::vector<HalfPlane> planes;
    planes.clear();
    addWalls(s, planes);
    const std::size_t hard = planes.size();
    addObstacles(s, planes);
    Vec2 wanted = turned(s.body.wanted, turnsAside(s, memory));
    if (meetsSomebody(s)) wanted = turned(wanted, -radians(s.settings.side * (0.5 + ownNumber(s.body.who.id))));
    for (const Seen& other : s.near) planes.push_back(against(s, other));
    addCourtesy(s, planes);
    if (insight) insight->planes = planes;
    return nearestAllowed(planes, hard, wanted, s.body.who.speed);
  }
};

}  // namespace

const SteeringModel& reciprocalSteering() {
  static const ReciprocalSteering model;
  return model;
}

}  // namespace dune::crowd
