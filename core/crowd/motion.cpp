#include "core/crowd/motion.h"

namespace dune::crowd {

namespace {
constexpr double kTurnBeforeGo = 100;  // degrees off the wanted heading at which a body slows down to turn
constexpr double kSideStep = 0.35;     // of the top speed, at which a body may go any way whatever its heading
}  // namespace

Vec2 withinLimits(const Body& b, const Vec2& want, double dt) {
  const double speed = glm::length(want);
  Vec2 target = want;
  if (speed > 0.05) {
    const double angle = std::atan2(want.y, want.x);
    const double off = std::remainder(angle - b.heading, 2 * kPi), most = radians(b.who.turnRate) * dt;
    if (std::abs(off) > most) {
      const double heading = b.heading + std::copysign(most, off);
      const double slower = std::clamp(1 - std::abs(off) / radians(kTurnBeforeGo), 0.0, 1.0);
      // Slowly one can step to any side.
      const double sideways = std::min(speed, kSideStep * b.who.speed);
      target = speed * slower > sideways ? Vec2{std::cos(heading), std::sin(heading)} * speed * slower : want * (sideways / speed);
    }
  }
  const Vec2 change = target - b.velocity;
  const double most = b.who.acceleration * dt, length = glm::length(change);
  return length > most ? b.velocity + change * (most / length) : target;
}

void turnTowardsAim(Body& b, double dt) {
  const Vec2 aim = glm::length(b.aim) > 0.05 ? b.aim : b.wanted;
  if (glm::length(aim) < 1e-6) return;
  const double off = std::remainder(std::atan2(aim.y, aim.x) - b.heading, 2 * kPi), most = radians(b.who.turnRate) * dt;
  b.heading += std::clamp(off, -most, most);
}

}  // namespace dune::crowd
