#include "core/crowd/flight.h"

#include <algorithm>

#include "core/base/polyline.h"
#include "core/nav/walk.h"

namespace dune::crowd {

namespace {
constexpr double kLinkSpeed = 0.8;   // of walking speed
constexpr double kAtLanding = 0.01;  // m
constexpr double kLeastOver = 0.3;   // m/s over a border that is crossed one way

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
  b.flownFor = 0;
  b.appears = link->kind == nav::LinkKind::teleport;
  const bool asLongAsItIs = link->seconds == 0 && !b.appears;
  const bool border = b.way.borderAt(b.way.next);
  b.flightTime = border         ? lengthOf(b.flight) / std::max(kLeastOver, glm::length(b.velocity))
                 : asLongAsItIs ? lengthOf(b.flight) / (b.who.speed * kLinkSpeed)
                                : link->seconds;
  b.state = State::link;
}

void fly(const nav::NavMesh& mesh, Body& b, double dt) {
  const Vec3 before = b.place.position;
  b.flownFor += dt;
  const bool landed = b.flownFor >= b.flightTime;
  if (landed && b.way.borderAt(b.way.next))
    b.place = b.landing = nav::stepBy(mesh, b.landing, b.velocity * (b.flownFor - b.flightTime));
  else if (landed)
    b.place.position = b.landing.position;
  else if (!b.appears)
    b.place.position = placeAlong(b.flight, b.flownFor / b.flightTime * lengthOf(b.flight));
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
