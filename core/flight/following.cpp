#include "core/flight/following.h"

#include <algorithm>
#include <cmath>

#include "core/flight/tuning.h"

namespace dune::flight {

double Plan::lengthFrom(const Vec3& at, std::size_t waypoint) const {
  double length = glm::distance(at, way[waypoint]);
  for (std::size_t k = waypoint + 1; k < way.size(); ++k) length += glm::distance(way[k - 1], way[k]);
  return length;
}

const Gate* Following::gateBefore() const {
  return space_.flyer().hovers() || now_.gate >= plan_.gates.size() ? nullptr : &plan_.gates[now_.gate];
}

Vec3 Following::ahead(std::size_t corner, double far) const {
  const auto& way = plan_.way;
  Vec3 at = now_.at;
  if (corner > 0) {
    const Vec3 a = way[corner - 1], d = way[corner] - a;
    const double length = glm::dot(d, d);
    at = length > 0 ? a + d * std::clamp(glm::dot(at - a, d) / length, 0.0, 1.0) : a;
  }
  for (; corner < way.size(); ++corner) {
    const double length = glm::distance(at, way[corner]);
    if (length >= far) return at + (way[corner] - at) * (far / std::max(length, 1e-9));
    far -= length, at = way[corner];
  }
  return way.back();
}

Vec3 Following::aim(std::size_t& waypoint, bool& blind) const {
  const auto& way = plan_.way;
  const Flyer& f = space_.flyer();
  double most = std::max(f.passWithin, 0.3 * glm::length(now_.velocity));
  if (const Gate* gate = gateBefore())
    most = std::min(most, std::max(tuning::kLinesUpLeast * f.radius, tuning::kLinesUp * distance(gate->at)));
  const std::size_t end = this->end();
  if (plan_.lands && waypoint >= end && (waypoint > end || isOver(way[end]))) waypoint = end + 1;
  if (inTheWay(waypoint) == Obstacles::Which::ofLevel) {
    blind = !space_.passes(now_.at, way[waypoint], Obstacles::Which::ofLevel);
    return way[waypoint];
  }
  while (waypoint < end) {
    const Vec3 a = way[waypoint - 1], d = way[waypoint] - a;
    const bool passed = glm::dot(now_.at - a, d) >= glm::dot(d, d), near = distance(way[waypoint]) <= f.passWithin;
    if ((!passed && !near) || !sees(way[waypoint + 1])) break;
    ++waypoint;
  }
  // Who was pushed off his way comes back to it little by little.
  const double off = distance(ahead(waypoint, 0));
  // In a narrow place it keeps to its way.
  const double reaches = now_.tight ? 0.6 * f.radius : most + 3 * off;
  for (double far = reaches; far > 0.05 * reaches; far /= 2)
    if (const Vec3 place = ahead(waypoint, far); sees(place)) return place;
  blind = !sees(way[waypoint]);
  return way[waypoint];
}

bool Following::isOver(const Vec3& place) const {
  const Flyer& f = space_.flyer();
  const Vec3 off = place - now_.at;
  return std::hypot(off.x, off.z) <= std::max(tuning::kOver * f.radius, f.arriveWithin) &&
         std::abs(off.y) <= f.halfHeight + f.arriveWithin && std::hypot(now_.velocity.x, now_.velocity.z) <= tuning::kSlowOver;
}

double Following::speedBefore(double angle, double far) const {
  const Flyer& f = space_.flyer();
  // A circle that leaves the way within what it may pass corners by: that much before the corner.
  const double radius = f.passWithin / std::tan(std::min(angle, 3.0) / 2);
  const double corner = std::min(std::sqrt(f.acceleration * radius), radians(f.turnRate) * radius);
  return std::sqrt(corner * corner + 2 * f.acceleration * tuning::kBrake * std::max(far - f.passWithin, 0.0));
}

double Following::speed(std::size_t waypoint, bool stops) const {
  const Flyer& f = space_.flyer();
  const auto& way = plan_.way;
  const double brake = f.acceleration * tuning::kBrake;
  double speed = f.speed, far = distance(way[waypoint]);
  if (const Gate* gate = gateBefore()) {
    const double before = distance(gate->at) - tuning::kSlowTurns * f.turningCircle() - tuning::kRunUpRadii * f.radius;
    speed = std::min(speed, std::sqrt(f.leastSpeed * f.leastSpeed + 2 * brake * std::max(before, 0.0)));
  }
  for (std::size_t k = waypoint; k + 1 < way.size() && far < speed * speed / brake; ++k) {
    const Vec3 in = k > 0 ? way[k] - way[k - 1] : way[k] - now_.at, out = way[k + 1] - way[k];
    const double lengths = glm::length(in) * glm::length(out);
    const double angle = lengths > 0 ? std::acos(std::clamp(glm::dot(in, out) / lengths, -1.0, 1.0)) : 0;
    if (angle > 0.02) speed = std::min(speed, speedBefore(angle, far));
    far += glm::length(out);
  }
  if (plan_.lands && waypoint <= end() && f.hovers()) {
    far = distance(way[waypoint]);
    for (std::size_t k = waypoint; k < end(); ++k) far += glm::distance(way[k], way[k + 1]);
    speed = std::min(speed, std::sqrt(2 * brake * far));
  }
  if (stops && f.hovers()) speed = std::min(speed, std::sqrt(2 * brake * plan_.lengthFrom(now_.at, waypoint)));
  return std::max(speed, f.hovers() ? 0.05 * f.speed : f.leastSpeed);
}

}  // namespace dune::flight
