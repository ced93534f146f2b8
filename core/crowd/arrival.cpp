#include "core/crowd/arrival.h"

namespace dune::crowd {

namespace {
constexpr double kPacked = 1.3;      // radii of the densest packing around a taken goal
constexpr double kDensest = 0.9069;  // of the plane that equal circles can cover
constexpr double kTouching = 0.12;   // m between bodies that stand together
constexpr double kGivesUp = 0.5;     // s of standing before those who arrived
constexpr double kSameStorey = 0.5;  // m
constexpr double kFarthest = 60;     // radii from a goal at which it can be too full to come nearer
}  // namespace

bool goalIsTaken(const Picture& picture, const std::vector<Body>& bodies, std::size_t self) {
  const Body& b = bodies[self];
  if (b.way.status != route::PathStatus::complete || !b.way.atLast() || b.way.points.empty()) return false;
  const Vec2 goal = plan(b.way.points.back()), here = plan(b.place.position);
  const double distance = glm::distance(goal, here);
  if (std::abs(b.way.points.back().y - b.place.position.y) > kSameStorey || distance > kFarthest * b.who.radius) return false;
  bool taken = false, touches = false;
  double area = 0;  // of the bodies nearer to it that have arrived, or want there too
  picture.eachNeighbour(self, distance + b.who.radius, [&](const Seen& other) {
    const double radius = bodies[other.number].who.radius, away = glm::distance(other.at, goal);
    const bool there = picture.shown[other.number].state == State::arrived;
    if (away >= distance || (!there && glm::distance(picture.goals[other.number], b.goal) > 2 * radius)) return;
    area += radius * radius;
    taken |= there && away < radius + b.who.radius;  // it cannot stand there itself
    touches |= there && other.distance < b.who.radius + radius + kTouching;
  });
  // Once there it stays there: standing still is no reason to set out again.
  const bool stays = picture.shown[self].state == State::arrived;
  return taken && (touches || stays || b.standing > kGivesUp) &&
         distance <= kPacked * std::sqrt((area + b.who.radius * b.who.radius) / kDensest) + b.who.radius;
}

}  // namespace dune::crowd
