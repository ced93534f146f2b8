#include "core/crowd/moving_obstacle.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/grown_convex.h"

namespace dune::crowd {

std::optional<Problem> checkObstacle(const MovingObstacle& o) {
  bool sane = !o.track.empty() && o.size.x > 0 && o.size.y > 0 && o.size.z > 0 && isFinite(o.size) && std::isfinite(o.turn) &&
              o.speed > 0 && std::isfinite(o.speed) && o.pause >= 0 && std::isfinite(o.pause);
  for (const Vec3& p : o.track) sane &= isFinite(p);
  if (sane) return std::nullopt;
  return Problem{ProblemCode::usage, "A moving obstacle has a number that makes no sense.", "moving obstacle " + std::to_string(o.id),
                 "a track of at least one place, and sizes and a speed above zero."};
}

Whereabouts whereabouts(const MovingObstacle& o, double time) {
  const std::size_t n = o.track.size();
  constexpr double kForEver = std::numeric_limits<double>::infinity();
  double whole = 0;
  std::vector<double> legs;
  for (std::size_t i = 0; i < n; ++i) {
    legs.push_back(glm::distance(o.track[i], o.track[(i + 1) % n]) / o.speed);
    whole += legs.back() + o.pause;
  }
  if (n < 2 || whole - o.pause * static_cast<double>(n) < 1e-9) return {o.track.front(), {}, kForEver};
  double left = std::fmod(std::max(0.0, time), whole);
  for (std::size_t i = 0; i < n; ++i) {
    const Vec3 &from = o.track[i], &to = o.track[(i + 1) % n];
    if (left < o.pause) return {from, {}, o.pause - left};
    left -= o.pause;
    if (left < legs[i]) return {glm::mix(from, to, left / legs[i]), (to - from) / legs[i], 0};
    left -= legs[i];
  }
  return {o.track.front(), {}, o.pause};
}

Footprint footprint(const MovingObstacle& o, const Whereabouts& now) {
  Footprint f;
  f.velocity = plan(now.velocity), f.low = now.at.y, f.high = now.at.y + o.size.y;
  const Vec2 middle = plan(now.at);
  if (o.shape == MovingObstacle::Shape::cylinder) {
    f.corners = {middle}, f.round = o.size.x / 2;
    return f;
  }
  const double a = radians(o.turn);
  const Vec2 x = Vec2{std::cos(a), std::sin(a)} * (o.size.x / 2), z = Vec2{-std::sin(a), std::cos(a)} * (o.size.z / 2);
  f.corners = {middle - x - z, middle + x - z, middle + x + z, middle - x + z};
  if (doubleArea(f.corners) < 0) std::ranges::reverse(f.corners);
  return f;
}

double Footprint::distance(const Vec2& q) const { return outOfConvex(corners, q).distance - round; }
Vec2 Footprint::outward(const Vec2& q) const { return outOfConvex(corners, q).direction; }
Vec2 Footprint::nearest(const Vec2& q) const {
  const Outward out = outOfConvex(corners, q);
  return out.distance <= round ? q : q - out.direction * (out.distance - round);
}

Polygon Footprint::grown(double more) const { return grownConvex(corners, round + more); }

Side sideAgainst(const Footprint& print, const Vec2& here, double radius, const Vec2& velocity, double ahead) {
  constexpr double kParts = 0.1, kFastest = 0.5;  // s in which bodies that touch part, at most so fast in m/s
  const double gap = print.distance(here) - radius, round = print.round + radius;
  const Vec2 out = print.outward(here);
  if (gap <= 1e-6) return {out, glm::dot(print.velocity, out) + std::min(kFastest, -gap / kParts)};
  const Vec2 relative = velocity - print.velocity;
  // The outermost tangents from the body: velocities that touch lie between them.
  Vec2 tangents[2];
  for (const int hand : {0, 1}) {  // left, right
    const double sign = hand == 0 ? 1 : -1;
    for (std::size_t i = 0; i < print.corners.size(); ++i) {
      const Vec2 to = print.corners[i] - here;
      const double length = glm::length(to), leg = std::sqrt(std::max(0.0, length * length - round * round));
      const Vec2 tangent = to * (leg / (length * length)) + leftOf(to) * (sign * round / (length * length));
      if (i == 0 || sign * cross(tangents[hand], tangent) > 0) tangents[hand] = tangent;
    }
  }
  // Their front: the footprint as far away as it must not come.
  Polygon front;
  for (const Vec2& c : print.corners) front.push_back((c - here) / ahead);
  const auto reach = [&](const Vec2& normal) {
    double most = -std::numeric_limits<double>::infinity();
    for (const Vec2& c : front) most = std::max(most, glm::dot(c, normal));
    return most + round / ahead;
  };
  // All are sides of one convex set: the one that is farthest out tells how far it is.
  Side best{out, glm::dot(relative, out) - reach(out)};
  const auto offer = [&](const Vec2& normal, double separation) {
    if (separation > best.least) best = {normal, separation};
  };
  const Vec2 sideways = outOfConvex(front, relative).direction;
  if (glm::dot(sideways, tangents[0]) <= 0 && glm::dot(sideways, tangents[1]) <= 0)
    offer(sideways, glm::dot(relative, sideways) - reach(sideways));
  offer(leftOf(tangents[0]), glm::dot(relative, leftOf(tangents[0])));
  offer(-leftOf(tangents[1]), glm::dot(relative, -leftOf(tangents[1])));
  best.least = glm::dot(velocity, best.normal) - best.least;
  return best;
}

}  // namespace dune::crowd
