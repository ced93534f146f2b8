#include "core/crowd/arrival.h"

namespace dune::crowd {

namespace {
constexpr double kPacked = 1.2;               // radii of the densest packing around a taken goal
constexpr double kDensest = 0.9069;           // of the plane that equal circles can cover
constexpr double kTouching = 0.06;            // m between bodies that stand together
constexpr double kCloseBehind = 0.4;          // m to the one ahead in a row that may open before one sets out again
constexpr double kGivesUp = 0.5;              // s of standing before those who arrived
constexpr double kWaits = 3, kContent = 0.2;  // s of standing after which it is content with less, and by how much more each second
constexpr double kRowWide = 8;                // radii of cross-section below which they stand in rows
constexpr double kInRow = 5;                  // s without getting on, in a row
constexpr double kInTheWay = 0.7;             // cosine between the way to the goal and to one who stands in it
constexpr double kClosesUp = 0.3;             // m/s
constexpr double kClosed = 2;                 // radii of both
constexpr double kGoalStorey = 0.5;           // m
constexpr double kFarthestGoal = 60;          // radii from a goal at which it can be too full to come nearer
}  // namespace

std::optional<Vec2> wantedAtTakenGoal(const Picture& picture, const std::vector<Body>& bodies, std::size_t self) {
  const Body& b = bodies[self];
  if (b.way.status != route::PathStatus::complete || !b.way.atLast() || b.way.points.empty()) return std::nullopt;
  const Vec2 goal = plan(b.way.points.back()), here = plan(b.place.position);
  const double distance = glm::distance(goal, here);
  if (std::abs(b.way.points.back().y - b.place.position.y) > kGoalStorey || distance > kFarthestGoal * b.who.radius) return std::nullopt;
  const bool stays = picture.shown[self].state == State::arrived;
  // It cannot stand there itself; or those around leave no gap to the place.
  const double closed = b.standing > kWaits ? kClosed : 1;
  bool taken = false, touches = false, queues = false;
  picture.eachAround(self, goal, closed * (b.who.radius + picture.largest), [&](const Seen& other) {
    taken |= picture.shown[other.number].state == State::arrived &&
             glm::distance(other.at, goal) < closed * (bodies[other.number].who.radius + b.who.radius);
  });
  if (!taken) return std::nullopt;
  double area = 0;  // of the bodies nearer to it that have arrived, or want there too
  picture.eachNeighbour(self, distance + b.who.radius, [&](const Seen& other) {
    const double radius = bodies[other.number].who.radius, away = glm::distance(other.at, goal);
    const bool there = picture.shown[other.number].state == State::arrived;
    if (away >= distance || (!there && glm::distance(picture.goals[other.number], b.goal) > 2 * radius)) return;
    area += radius * radius;
    const double gap = other.distance - b.who.radius - radius;
    const bool ahead = there && glm::dot(other.at - here, goal - here) > kInTheWay * other.distance * distance;
    touches |= ahead && gap < kTouching;
    queues |= ahead && gap < (stays ? kCloseBehind : kTouching) && glm::distance(picture.goals[other.number], b.goal) < 2 * radius;
  });
  // Where those before it stand loosely it cannot get nearer either.
  const double packed = kPacked + (stays ? kPacked : std::clamp(kContent * (b.standing - kWaits), 0.0, kPacked));
  // Once there it stays there: standing still is no reason to set out again.
  const bool near = distance <= packed * std::sqrt((area + b.who.radius * b.who.radius) / kDensest) + b.who.radius;
  // In a corridor they stand in a row, not in a ring: who has not got on for long behind one who has arrived at the same place stays.
  const bool narrow = b.passage || (b.lane && b.lane->left + b.lane->right < kRowWide * b.who.radius);
  const bool inRow = queues && (stays || (narrow && b.progress.stalled > kInRow));
  if (!(near && (touches || stays || b.standing > kGivesUp)) && !inRow) return std::nullopt;
  return touches ? Vec2{0} : (goal - here) * (kClosesUp / distance);
}

}  // namespace dune::crowd
