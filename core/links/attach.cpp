#include "core/links/attach.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/nav/sight.h"

namespace dune::links {

namespace {

constexpr double kReachBeyondRadius = 0.3;  // metres: a click beside a ledge should still find the ground a body can stand on

std::string sentence(const char* end, double reach, const nav::Place& near, const Vec3& at) {
  if (!near.valid()) return text("its %s is nowhere near ground", end);
  return text("its %s is %.2f m from the nearest ground against %.2f m", end, glm::distance(near.position, at), reach);
}

constexpr double kSlack = 0.01;   // metres: nobody draws more exactly
constexpr double kUphill = 0.05;  // metres that the ground at a drop's landing may be higher: it is nearly level

std::optional<Beyond> tooFar(const HandLink& link, const nav::Place& from, const nav::Place& to, const nav::NavMesh& mesh) {
  const nav::Agent& agent = mesh.agent;
  const Demand demand = demandOf(mesh, link.kind, link.oneWay, from, to);
  auto said = [&](const char* noun, const char* verb, double asked, double most) {
    const std::string can =
        most > 0 ? text("%s %ss %.2f m at most", agent.name.c_str(), verb, most) : text("%s does not %s", agent.name.c_str(), verb);
    return Beyond{link.id, text("it is a %s of %.2f m, and %s", noun, asked, can.c_str()), link.from, demand};
  };
  if (demand.jump > agent.maxJump + kSlack || (link.kind == nav::LinkKind::jump && agent.maxJump == 0))
    return said("jump", "jump", demand.jump, agent.maxJump);
  if (demand.rise > agent.maxRise + kSlack)
    return Beyond{link.id,
                  text("it is a jump up by %.2f m, and %s jumps up by %.2f m at most", demand.rise, agent.name.c_str(), agent.maxRise),
                  link.from, demand};
  if (demand.drop > agent.maxDrop + kSlack || (link.kind == nav::LinkKind::drop && agent.maxDrop == 0))
    return said("drop", "drop", demand.drop, agent.maxDrop);
  return std::nullopt;
}

/// A jump both ways between ends of which one is too high to jump up to is one down.
void goDownOnly(const nav::Agent& agent, HandLink& link, nav::Place& from, nav::Place& to) {
  if (link.kind != nav::LinkKind::jump || link.oneWay || !from.valid() || !to.valid()) return;
  const double rise = to.position.y - from.position.y;
  if (std::abs(rise) <= agent.maxRise + kSlack) return;
  link.oneWay = true;
  if (rise > 0) std::swap(from, to), std::swap(link.from, link.to), std::swap(link.fromHalf, link.toHalf);
}
}  // namespace

HandLink drawnLike(const nav::Link& link, int id) {
  return {id, link.kind, link.from, link.to, link.oneWay, link.cost, link.fromHalf, link.toHalf, link.perMetre, link.seconds, {}};
}

bool RefusedLink::covers(const nav::Link& link) const {
  constexpr double kNear = 0.5;  // metres: a rebuild may find it a little aside
  const auto along = [](const Vec3& middle, const Vec3& half, const Vec3& at) {
    return glm::distance(nav::nearestOnStretch(middle, half, at), at) <= kNear;
  };
  return link.generated && link.kind == kind && along(from, fromHalf, link.from) && along(to, toHalf, link.to);
}

Demand demandOf(const nav::NavMesh& mesh, nav::LinkKind kind, bool oneWay, const nav::Place& from, const nav::Place& to) {
  Demand demand;
  if (kind == nav::LinkKind::drop) demand.drop = std::abs(from.position.y - to.position.y);
  if (kind != nav::LinkKind::jump) return demand;
  const double rise = to.position.y - from.position.y;
  demand.rise = std::max(0.0, oneWay ? rise : std::abs(rise));
  const Vec2 way = plan(to.position) - plan(from.position);
  const double length = glm::length(way);
  if (length == 0) return demand;
  bool over = false;
  const Vec2 near = plan(nav::sightEnd(mesh, from, plan(to.position), &over)),
             far = plan(nav::sightEnd(mesh, to, plan(from.position), &over));
  demand.jump = std::max(0.0, glm::dot(far - near, way) / length - 2 * mesh.agent.radius);
  return demand;
}

Attached attach(const nav::NavMesh& mesh, const nav::Locator& locator, const std::vector<HandLink>& drawn, int agent) {
  Attached result;
  const double reach = mesh.agent.radius + kReachBeyondRadius;
  for (HandLink link : drawn) {
    if (agent > 0 && !link.isFor(agent)) {
      result.notFor.push_back(link.id);
      continue;
    }
    nav::Place from = locator.nearest(link.from, reach), to = locator.nearest(link.to, reach);
    goDownOnly(mesh.agent, link, from, to);
    if (!from.valid())
      result.broken.push_back({link.id, sentence("foot", reach, locator.nearest(link.from, 20), link.from), link.from});
    else if (!to.valid())
      result.broken.push_back({link.id, sentence("landing", reach, locator.nearest(link.to, 20), link.to), link.to});
    else if (glm::distance(from.position, to.position) < 0.01)
      result.broken.push_back({link.id, "both its ends are one place", link.from});
    else if (const double up = to.position.y - from.position.y; link.kind == nav::LinkKind::drop && up > kUphill)
      result.broken.push_back(
          {link.id, text("it leads up by %.2f m, and a drop goes down: turn it round, or make it a climb", up), link.from});
    else if (auto beyond = tooFar(link, from, to, mesh))
      result.beyond.push_back(*std::move(beyond));
    else
      result.links.push_back({link.id, link.kind, from.position, to.position, from.face, to.face,
                              link.oneWay || link.kind == nav::LinkKind::drop, link.cost,
                              static_cast<int>(mesh.area[nav::index(from.face)]), mesh.agent.radius, link.fromHalf, link.toHalf, false,
                              link.perMetre, link.seconds});
  }
  return result;
}

}  // namespace dune::links
