#include "core/crowd/keeping_apart.h"

#include <algorithm>

#include "core/base/plan_geometry.h"

namespace dune::crowd {

namespace {

constexpr double kKeepRight = 7.0;  // degrees by which a body that meets others turns its way to the right

Vec2 turned(const Vec2& v, double angle) {
  const double c = std::cos(angle), s = std::sin(angle);
  return {v.x * c - v.y * s, v.x * s + v.y * c};
}

}  // namespace

KeepingApart::KeepingApart(const route::Field& field, const Avoidance& avoidance, const Picture& picture, const std::vector<Body>& bodies,
                           double dt)
    : mesh_(field.mesh()), rules_(field.rules()), avoidance_(avoidance), picture_(picture), bodies_(bodies), dt_(dt) {
  for (const Body& b : bodies) largest_ = std::max(largest_, b.who.radius), fastest_ = std::max(fastest_, b.who.speed);
}

const std::vector<Seen>& KeepingApart::around(std::size_t self) const {
  thread_local std::vector<Seen> near;
  near.clear();
  const double reach = std::max(avoidance_.neighbourRange, contactReach(bodies_[self]));
  picture_.eachNeighbour(self, reach, [&](const Seen& other) { near.push_back(other); });
  const auto heeded =
      near.begin() + static_cast<std::ptrdiff_t>(std::min(near.size(), static_cast<std::size_t>(avoidance_.mostNeighbours)));
  std::partial_sort(near.begin(), heeded, near.end(),
                    [](const Seen& x, const Seen& y) { return x.distance != y.distance ? x.distance < y.distance : x.number < y.number; });
  return near;
}

/// What no step may do: of the room between two bodies each takes half at the most, so that they never overlap. Standing is allowed
/// always.
void KeepingApart::addContacts(std::size_t self, std::span<const Seen> near, std::vector<HalfPlane>& planes) const {
  const Body& b = bodies_[self];
  const Vec2 here = plan(b.place.position);
  const double reach = contactReach(b);
  for (const Seen& other : near) {
    if (other.distance < 1e-9 || other.distance > reach) continue;
    const Vec2 towards = (other.at - here) / other.distance;
    const double most = closing(self, other);
    planes.push_back({towards * most, Vec2{-towards.y, towards.x}});
  }
}

/// How fast a body may come nearer to another, m/s; below zero where they overlap, for then they part.
double KeepingApart::closing(std::size_t self, const Seen& other) const {
  constexpr double kParts = 0.5;  // m/s
  const double gap = other.distance - bodies_[self].who.radius - bodies_[other.number].who.radius;
  return gap >= 0 ? gap / (2 * dt_) : std::max(gap / (2 * dt_), -kParts);
}

double KeepingApart::contactReach(const Body& b) const { return b.who.radius + largest_ + 2 * fastest_ * dt_ + 0.1; }

Vec2 KeepingApart::withoutContact(std::size_t self, std::span<const Seen> near, const Vec2& velocity) const {
  const Body& b = bodies_[self];
  thread_local std::vector<HalfPlane> planes;
  planes.clear();
  addContacts(self, near, planes);
  const auto broken = [&](const HalfPlane& p) { return cross(p.direction, velocity - p.point) < 0; };
  if (std::ranges::none_of(planes, broken)) return velocity;
  addWalls(b, planes);
  return nearestAllowed(planes, planes.size(), velocity, b.who.speed);
}

/// A step slides along the border, which may lead it into somebody after all; then it is shorter.
double KeepingApart::shortened(std::size_t self, const Vec2& step) const {
  double part = 1;
  picture_.eachNeighbour(self, contactReach(bodies_[self]), [&](const Seen& other) {
    if (other.distance < 1e-9) return;
    const double nearer = glm::dot(step, other.at - plan(picture_.shown[self].at)) / other.distance,
                 most = std::max(0.0, closing(self, other) * dt_);
    if (nearer > most + 1e-12) part = std::min(part, most / nearer);
  });
  return part;
}

Vec2 KeepingApart::avoiding(std::size_t self, std::span<const Seen> near) const {
  const Body& b = bodies_[self];
  near = near.first(std::min(near.size(), static_cast<std::size_t>(avoidance_.mostNeighbours)));
  if (near.empty()) return b.wanted;
  thread_local std::vector<HalfPlane> planes;
  planes.clear();
  addWalls(b, planes);
  const std::size_t hard = planes.size();
  Vec2 wanted = b.wanted;
  if (meetsSomebody(b, near)) wanted = turned(wanted, -radians(kKeepRight * (0.5 + ownNumber(b.who.id))));
  for (const Seen& other : near) {
    planes.push_back(against(self, other));
    makeWay(self, other, planes);
  }
  return nearestAllowed(planes, hard, wanted, b.who.speed);
}

/// Who goes first and is held up asks for room. Whom it touches gives way: aside where it comes towards it, for pushed back it would go
/// where it came from; along where both go the same way. Who has arrived steps aside for one who waits, and comes back.
void KeepingApart::makeWay(std::size_t self, const Seen& other, std::vector<HalfPlane>& planes) const {
  constexpr double kClose = 0.15, kFastest = 1, kAsks = 0.5;  // m, m/s, s of standing
  const Body& b = bodies_[self];
  const double gap = other.distance - b.who.radius - bodies_[other.number].who.radius;
  if (gap > kClose || other.distance < 1e-9 || picture_.shown[other.number].state == State::arrived) return;
  const bool rests = b.state == State::arrived;
  if (rests ? picture_.waited[other.number] < kAsks : picture_.goesFirst(self, other.number)) return;
  const Vec2 inward = (plan(b.place.position) - other.at) / other.distance, aim = picture_.aims[other.number];
  const double asked = std::min(kFastest, glm::dot(aim, inward));
  if (asked <= 0.02) return;
  Vec2 way = inward;
  if (rests || glm::dot(aim, b.wanted) < 0) way = (cross(aim, inward) >= 0 ? leftOf(aim) : -leftOf(aim)) / glm::length(aim);
  planes.push_back({way * asked, Vec2{way.y, -way.x}});
}

/// Whether one of the others comes towards it from ahead: then all keep to one side.
bool KeepingApart::meetsSomebody(const Body& b, std::span<const Seen> near) const {
  const double speed = glm::length(b.wanted);
  return speed > 0 && std::ranges::any_of(near, [&](const Seen& other) {
           const Vec2 apart = other.at - plan(b.place.position);
           return glm::dot(apart, b.wanted) > 0.5 * other.distance * speed && glm::dot(other.velocity, b.wanted) < -0.1 * speed;
         });
}

/// The mesh already keeps the radius: the centre may come up to its border, and no further. Only where the border lies beside the body;
/// past its ends the body goes around.
void KeepingApart::addWalls(const Body& b, std::vector<HalfPlane>& planes) const {
  thread_local std::vector<nav::BorderEdge> edges;
  const double reach = b.who.speed * avoidance_.wallAhead + 0.05;
  nav::borderAround(mesh_, b.place, reach, &rules_, edges);
  const Vec2 here = plan(b.place.position);
  for (const nav::BorderEdge& e : edges) {
    const Vec2 line = e.b - e.a;
    const double length = glm::length(line), along = glm::dot(here - e.a, line) / (length * length);
    const double distance = cross(line, here - e.a) / length;
    if (length < 1e-9 || along < 0 || along > 1 || distance < -1e-6) continue;
    const Vec2 inward = leftOf(line) / length;
    planes.push_back({inward * (-std::max(0.0, distance) / avoidance_.wallAhead), Vec2{inward.y, -inward.x}});
  }
}

/// How much of what keeps two bodies apart is this one's to do. Who has arrived gives way less; else who is nearer to the next corner of
/// its way goes first, so that nobody waits for one who waits for him.
double KeepingApart::share(std::size_t self, const Seen& other) const {
  const State mine = bodies_[self].state, theirs = picture_.shown[other.number].state;
  const bool rests = theirs == State::arrived || theirs == State::waiting, iRest = mine == State::arrived || mine == State::waiting;
  if (rests != iRest) return rests ? 0.9 : 0.1;
  return picture_.goesFirst(self, other.number) ? 0.25 : 0.75;
}

/// How much of the time to look ahead a body heeds: all of it while it gets on as it wants. Held up in a crowd it looks at the next step
/// only, for with much care nobody moves; that nobody touches is seen to otherwise.
double KeepingApart::foresight(const Body& b) {
  constexpr double kLeast = 0.5, kSteep = 8;
  const double wanted2 = glm::dot(b.wanted, b.wanted);
  const double getsOn = wanted2 > 0.0025 ? std::clamp(glm::dot(b.velocity, b.wanted) / wanted2, 0.0, 1.0) : 1;
  return kLeast + (1 - kLeast) * std::pow(getsOn, kSteep);
}

/// The half-plane of velocities with which two bodies do not touch within the time to look ahead (van den Berg et al. 2011, section 4).
HalfPlane KeepingApart::against(std::size_t self, const Seen& other) const {
  const Body& b = bodies_[self];
  const Vec2 apart = other.at - plan(b.place.position), relative = b.velocity - other.velocity;
  const double radius = b.who.radius + bodies_[other.number].who.radius + avoidance_.spacing, distance2 = glm::dot(apart, apart);
  const double ahead = avoidance_.lookAhead * foresight(b);
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
    const double part = std::max(dt_, 0.1);
    const Vec2 w = relative - apart / part;
    double length = glm::length(w);
    Vec2 unit = length > 1e-9 ? w / length : Vec2{b.who.id < bodies_[other.number].who.id ? 1.0 : -1.0, 0};
    direction = {unit.y, -unit.x};
    change = unit * (radius / part - length);
  }
  return {b.velocity + change * share(self, other), direction};
}

}  // namespace dune::crowd
