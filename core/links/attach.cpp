#include "core/links/attach.h"

#include <algorithm>

#include "core/base/text.h"
#include "core/mesh/sight.h"

namespace dune::links {

namespace {

constexpr double kReachBeyondRadius = 0.3;  // metres: a click beside a ledge should still find the ground a body can stand on
constexpr double kJumpRise = 0.25;          // height of a jump's arc against its length
constexpr int kFlightPoints = 17;

std::string sentence(const char* end, double reach, const mesh::Place& near, const Vec3& at) {
  if (!near.valid()) return text("its %s is nowhere near ground", end);
  return text("its %s is %.2f m from the nearest ground against %.2f m", end, glm::distance(near.position, at), reach);
}

constexpr double kSlack = 0.01;  // metres: nobody draws more exactly

std::optional<Beyond> tooFar(const HandLink& link, const mesh::Place& from, const mesh::Place& to, const mesh::NavMesh& mesh) {
  const level::Agent& agent = mesh.agent;
  const Demand demand = demandOf(mesh, link.kind, from, to);
  auto said = [&](const char* noun, const char* verb, double asked, double most) {
    const std::string can =
        most > 0 ? text("%s %ss %.2f m at most", agent.name.c_str(), verb, most) : text("%s does not %s", agent.name.c_str(), verb);
    return Beyond{link.id, text("it is a %s of %.2f m, and %s", noun, asked, can.c_str()), link.from, demand};
  };
  if (demand.jump > agent.maxJump + kSlack || (link.kind == mesh::LinkKind::jump && agent.maxJump == 0))
    return said("jump", "jump", demand.jump, agent.maxJump);
  if (demand.drop > agent.maxDrop + kSlack || (link.kind == mesh::LinkKind::drop && agent.maxDrop == 0))
    return said("drop", "drop", demand.drop, agent.maxDrop);
  return std::nullopt;
}

}  // namespace

Demand demandOf(const mesh::NavMesh& mesh, mesh::LinkKind kind, const mesh::Place& from, const mesh::Place& to) {
  Demand demand;
  if (kind == mesh::LinkKind::drop) demand.drop = std::abs(from.position.y - to.position.y);
  const Vec2 way = plan(to.position) - plan(from.position);
  const double length = glm::length(way);
  if (kind != mesh::LinkKind::jump || length == 0) return demand;
  bool over = false;
  const Vec2 near = plan(mesh::sightEnd(mesh, from, plan(to.position), &over)),
             far = plan(mesh::sightEnd(mesh, to, plan(from.position), &over));
  demand.jump = std::max(0.0, glm::dot(far - near, way) / length - 2 * mesh.agent.radius);
  return demand;
}

Attached attach(const mesh::NavMesh& mesh, const mesh::Locator& locator, const std::vector<HandLink>& drawn) {
  Attached result;
  const double reach = mesh.agent.radius + kReachBeyondRadius;
  for (const HandLink& link : drawn) {
    const mesh::Place from = locator.nearest(link.from, reach), to = locator.nearest(link.to, reach);
    if (!from.valid())
      result.broken.push_back({link.id, sentence("foot", reach, locator.nearest(link.from, 20), link.from), link.from});
    else if (!to.valid())
      result.broken.push_back({link.id, sentence("landing", reach, locator.nearest(link.to, 20), link.to), link.to});
    else if (glm::distance(from.position, to.position) < 0.01)
      result.broken.push_back({link.id, "both its ends are one place", link.from});
    else if (auto beyond = tooFar(link, from, to, mesh))
      result.beyond.push_back(*std::move(beyond));
    else
      result.links.push_back({link.id, link.kind, from.position, to.position, from.face, to.face, link.oneWay, link.cost,
                              static_cast<int>(mesh.area[mesh::index(from.face)]), mesh.agent.radius});
  }
  return result;
}

const char* kindName(mesh::LinkKind kind) {
  constexpr const char* kNames[] = {"jump", "drop", "climb"};
  return kNames[static_cast<std::size_t>(kind)];
}

std::optional<mesh::LinkKind> kindNamed(const std::string& name) {
  for (const auto kind : {mesh::LinkKind::jump, mesh::LinkKind::drop, mesh::LinkKind::climb})
    if (name == kindName(kind)) return kind;
  return std::nullopt;
}

std::vector<Vec3> flight(mesh::LinkKind kind, const Vec3& from, const Vec3& to) {
  if (kind == mesh::LinkKind::climb) {
    // Up or down along the wall at the upper end, then on to it.
    const Vec3& low = from.y < to.y ? from : to;
    const Vec3& high = from.y < to.y ? to : from;
    const Vec3 bend{low.x, high.y, low.z};
    return {from, bend, to};
  }
  std::vector<Vec3> points;
  const double rise = std::max(0.15, kJumpRise * glm::distance(plan(from), plan(to))) * (kind == mesh::LinkKind::drop ? 0.4 : 1);
  for (int i = 0; i < kFlightPoints; ++i) {
    const double t = static_cast<double>(i) / (kFlightPoints - 1);
    Vec3 p = glm::mix(from, to, t);
    // For a drop the fall comes late, as it does for a body that steps off a ledge.
    if (kind == mesh::LinkKind::drop) p.y = from.y + (to.y - from.y) * t * t;
    p.y += 4 * rise * t * (1 - t);
    points.push_back(p);
  }
  return points;
}

}  // namespace dune::links
