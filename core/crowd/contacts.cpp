#include "core/crowd/contacts.h"

#include <algorithm>

#include "core/base/plan_geometry.h"

namespace dune::crowd {

Contacts::Contacts(const Picture& picture, const std::vector<Body>& bodies, double dt) : picture_(picture), bodies_(bodies), dt_(dt) {
  for (const Body& b : bodies) largest_ = std::max(largest_, b.who.radius), fastest_ = std::max(fastest_, b.who.speed);
}

const std::vector<Seen>& Contacts::around(std::size_t self, const SteeringSettings& settings) const {
  thread_local std::vector<Seen> near;
  near.clear();
  picture_.eachNeighbour(self, std::max(settings.range, reachOf(bodies_[self])), [&](const Seen& other) { near.push_back(other); });
  const auto heeded = near.begin() + static_cast<std::ptrdiff_t>(std::min(near.size(), static_cast<std::size_t>(settings.heeded)));
  const auto nearer = [](const Seen& x, const Seen& y) { return x.distance != y.distance ? x.distance < y.distance : x.number < y.number; };
  std::nth_element(near.begin(), heeded, near.end(), nearer);
  std::sort(near.begin(), heeded, nearer);
  return near;
}

double Contacts::closing(std::size_t self, const Seen& other) const {
  constexpr double kParts = 0.5;  // m/s
  const double gap = other.distance - bodies_[self].who.radius - bodies_[other.number].who.radius;
  return gap >= 0 ? gap / (2 * dt_) : std::max(gap / (2 * dt_), -kParts);
}

double Contacts::reachOf(const Body& b) const { return b.who.radius + largest_ + 2 * fastest_ * dt_ + 0.1; }

Vec2 Contacts::withoutContact(const Situation& s, std::span<const Seen> near, const Vec2& velocity) const {
  const Body& b = s.body;
  thread_local std::vector<HalfPlane> planes;
  planes.clear();
  const double reach = reachOf(b);
  double most = b.who.speed;
  for (const Seen& other : near) {
    if (other.distance < 1e-9 || other.distance > reach) continue;
    const Vec2 towards = (other.at - s.here()) / other.distance;
    planes.push_back(atLeast(-towards, -closing(s.self, other)));
  }
  picture_.eachObstacle(s.self, reach, [&](const Footprint& print) {
    const Vec2 out = print.outward(s.here());
    const double gap = print.distance(s.here()) - b.who.radius;
    planes.push_back(atLeast(out, glm::dot(print.velocity, out) - gap / dt_));
    most = std::max(most, glm::length(print.velocity));  // it is pushed along by what drives into it
  });
  const auto broken = [&](const HalfPlane& p) { return cross(p.direction, velocity - p.point) < 0; };
  if (std::ranges::none_of(planes, broken)) return velocity;
  // Walls hold whatever else does; they are looked for only here, for that takes time.
  thread_local std::vector<HalfPlane> walled;
  walled.clear();
  addWalls(s, walled);
  const std::size_t walls = walled.size();
  walled.insert(walled.end(), planes.begin(), planes.end());
  return nearestAllowed(walled, walls, velocity, most);
}

double Contacts::shortened(std::size_t self, const Vec2& step) const {
  double part = 1;
  picture_.eachNeighbour(self, reachOf(bodies_[self]), [&](const Seen& other) {
    if (other.distance < 1e-9) return;
    const double nearer = glm::dot(step, other.at - plan(picture_.shown[self].at)) / other.distance,
                 most = std::max(0.0, closing(self, other) * dt_);
    if (nearer > most + 1e-12) part = std::min(part, most / nearer);
  });
  return part;
}

}  // namespace dune::crowd
