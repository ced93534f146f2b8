#include "core/crowd/flight.h"

namespace dune::crowd {

namespace {
constexpr double kLinkSpeed = 0.8;  // of walking speed
}

bool footIsFree(const Picture& picture, const std::vector<Body>& bodies, std::size_t self) {
  const Body& b = bodies[self];
  const Vec3& foot = b.way.points[b.way.next];
  for (std::size_t i = 0; i < picture.shown.size(); ++i)
    if (i != self && picture.shown[i].state == State::link &&
        glm::distance(picture.shown[i].at, foot) < b.who.radius + bodies[i].who.radius)
      return false;
  return true;
}

void takeOff(const nav::NavMesh& mesh, Body& b) {
  const Vec3 &from = b.way.points[b.way.next], &to = b.way.points[b.way.next + 1];
  for (const nav::Link& link : mesh.links) {
    const bool forward = glm::distance(link.from, from) < 1e-6 && glm::distance(link.to, to) < 1e-6;
    const bool back = !link.oneWay && glm::distance(link.to, from) < 1e-6 && glm::distance(link.from, to) < 1e-6;
    if (!forward && !back) continue;
    b.flight = nav::flight(link.kind, from, to);
    b.landing = {forward ? link.toFace : link.fromFace, to};
    b.flight.front() = b.place.position;  // from where it stands
    b.flown = 0;
    b.state = State::link;
    return;
  }
}

void fly(Body& b, double dt) {
  const Vec3 before = b.place.position;
  b.flown += b.who.speed * kLinkSpeed * dt;
  double left = b.flown;
  std::size_t leg = 0;
  while (leg + 1 < b.flight.size() && left > glm::distance(b.flight[leg], b.flight[leg + 1]))
    left -= glm::distance(b.flight[leg], b.flight[leg + 1]), ++leg;
  const bool landed = leg + 1 >= b.flight.size();
  b.place.position =
      landed ? b.landing.position : glm::mix(b.flight[leg], b.flight[leg + 1], left / glm::distance(b.flight[leg], b.flight[leg + 1]));
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
