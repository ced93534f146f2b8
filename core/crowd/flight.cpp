#include "core/crowd/flight.h"

#include <algorithm>

namespace dune::crowd {

namespace {
constexpr double kLinkSpeed = 0.8;    // of walking speed
constexpr double kAtLanding = 0.01;   // m
constexpr double kLeastSpeed = 0.01;  // m/s
}  // namespace

bool footIsFree(const Picture& picture, const std::vector<Body>& bodies, std::size_t self) {
  const Body& b = bodies[self];
  const Vec3& foot = b.way.points[b.way.next];
  for (std::size_t i = 0; i < picture.shown.size(); ++i)
    if (i != self && picture.shown[i].state == State::link &&
        glm::distance(picture.shown[i].at, foot) < b.who.radius + bodies[i].who.radius)
      return false;
  return true;
}

void takeOff(const route::Field& field, Body& b) {
  const nav::NavMesh& mesh = field.mesh();
  const auto use = std::ranges::lower_bound(b.way.links, b.way.next, {}, &route::LinkUse::enter);
  const auto link = use == b.way.links.end() ? mesh.links.end() : std::ranges::find(mesh.links, use->id, &nav::Link::id);
  const Vec3 &from = b.way.points[b.way.next], &to = b.way.points[b.way.next + 1];
  const nav::Place landing = field.locator().nearest(to, kAtLanding);
  if (link == mesh.links.end() || !landing.valid()) return;
  b.flight = nav::flight(link->kind, from, to, link->radius);
  b.landing = landing;
  b.flight.front() = b.place.position;  // from where it stands
  b.flown = 0;
  double length = 0;
  for (std::size_t i = 0; i + 1 < b.flight.size(); ++i) length += glm::distance(b.flight[i], b.flight[i + 1]);
  b.flightSpeed = link->seconds > 0 ? std::max(length / link->seconds, kLeastSpeed) : b.who.speed * kLinkSpeed;
  b.appearsAfter = link->kind == nav::LinkKind::teleport ? std::optional(link->seconds) : std::nullopt;
  b.state = State::link;
}

namespace {
/// One that appears at the other end stands at its foot until then.
bool stepOver(Body& b, double dt) {
  if (b.appearsAfter) {
    b.flown += dt;
    if (b.flown < *b.appearsAfter) return false;
    b.place.position = b.landing.position;
    return true;
  }
  b.flown += b.flightSpeed * dt;
  double left = b.flown;
  std::size_t leg = 0;
  while (leg + 1 < b.flight.size() && left > glm::distance(b.flight[leg], b.flight[leg + 1]))
    left -= glm::distance(b.flight[leg], b.flight[leg + 1]), ++leg;
  const bool landed = leg + 1 >= b.flight.size();
  b.place.position =
      landed ? b.landing.position : glm::mix(b.flight[leg], b.flight[leg + 1], left / glm::distance(b.flight[leg], b.flight[leg + 1]));
  return landed;
}
}  // namespace

void fly(Body& b, double dt) {
  const Vec3 before = b.place.position;
  const bool landed = stepOver(b, dt);
  b.velocity = (plan(b.place.position) - plan(before)) / dt;
  b.wanted = b.velocity;
  b.state = State::link;
  if (glm::length(b.velocity) > 0.05) b.heading = std::atan2(b.velocity.y, b.velocity.x);
  if (!landed) return;
  b.place = b.landing;
  b.flight.clear();
  b.way.next += b.way.next + 2 < b.way.points.size() ? 2u : 1u;
  b.standing = 0;
  b.state = State::moving;
}

}  // namespace dune::crowd
