#include "core/links/landings.h"

#include <algorithm>

#include "core/nav/line_in_face.h"

namespace dune::links {

namespace {

using nav::FaceId;
using nav::LinkKind;

constexpr double kGrace = 0.01;       // m by which a limit may be passed: heights of faces are not nearer to the ground
constexpr double kBesideEdge = 0.02;  // m before the place right behind an edge at which ground below may begin
constexpr double kFurther = 0.25;     // m between the places behind an edge that are tried
constexpr double kRounding = 1e-6;    // m
constexpr double kAside = 0.35;       // m behind it at which ground still counts as right below the edge

}  // namespace

void Landings::from(const BrinkPlace& place, std::vector<Landing>& out) const {
  out.clear();
  drops(place, out);
  jumps(place, out);
}

/// Ground right below, at the place where a body is just free of the edge; the highest of it, for that is what it falls on.
void Landings::drops(const BrinkPlace& place, std::vector<Landing>& out) const {
  const nav::Agent& agent = mesh_.agent;
  if (agent.maxDrop <= agent.stepHeight) return;
  const Vec3& from = place.at.position;
  const Vec2 below = plan(from) + place.out * (place.edgeBefore + agent.radius);
  Box2 box;
  box.add(below);
  nav::Place best;
  for (const std::uint32_t f : locator_.within(box)) {
    if (!nav::coversPlan(mesh_, FaceId{f}, below)) continue;
    const double y = nav::heightOn(mesh_, FaceId{f}, below), fall = from.y - y;
    if (fall <= agent.stepHeight || fall > agent.maxDrop + kGrace || (best.valid() && y <= best.position.y)) continue;
    best = {FaceId{f}, lift(below, y)};
  }
  if (best.valid()) out.push_back({LinkKind::drop, best, false});
}

bool Landings::isDrop(double aside, double fall) const { return aside <= kAside && fall > mesh_.agent.stepHeight; }

/// Ground beyond the border, where the way straight out comes over an edge of it from outside and every now and then behind that: who
/// cannot land right at an edge may further on.
void Landings::jumps(const BrinkPlace& place, std::vector<Landing>& out) const {
  const nav::Agent& agent = mesh_.agent;
  const double least = place.edgeBefore + agent.radius, most = least + std::max(agent.maxJump + kGrace, kAside);
  const Vec2 start = plan(place.at.position), n = place.out;
  Box2 way;
  way.add(start + n * (least - kBesideEdge)), way.add(start + n * most);
  std::vector<std::pair<double, Landing>> found;
  for (const std::uint32_t e : border_.within(way)) {
    const nav::Border::Edge& edge = border_.edges()[e];
    const Vec2 a = plan(edge.a), d = plan(edge.b) - a;
    const double facing = cross(d, n);  // ground is on the left of its edges
    if (facing <= 0) continue;
    const double t = cross(start - a, n) / facing;
    if (t < 0 || t > 1) continue;
    const Vec2 q = a + d * t;
    const double distance = glm::dot(q - start, n);
    if (distance < least - kBesideEdge) continue;
    // Slanting towards its edge, the real ground begins further before that of the mesh.
    const double gap = distance - place.edgeBefore - agent.radius * glm::length(d) / facing;
    const nav::Place at{edge.face, lift(q, edge.a.y + (edge.b.y - edge.a.y) * t)};
    if (const auto landing = judge(place, at, gap, distance - least)) found.push_back({distance, *landing});
  }
  for (const std::uint32_t f : locator_.within(way)) {
    const Interval in = nav::lineIn(mesh_, FaceId{f}, start, n, kRounding);
    for (double k = std::max(1.0, std::ceil((in.from - least) / kFurther)); least + k * kFurther < std::min(most, in.to + kRounding); ++k) {
      const double distance = least + k * kFurther;
      const Vec2 q = start + n * distance;
      if (!nav::coversPlan(mesh_, FaceId{f}, q)) continue;
      const nav::Place at{FaceId{f}, lift(q, nav::heightOn(mesh_, FaceId{f}, q))};
      if (const auto landing = judge(place, at, distance - least, distance - least)) found.push_back({distance, *landing});
    }
  }
  std::ranges::stable_sort(found, {}, [](const auto& f) { return f.first; });
  for (const auto& [distance, landing] : found) out.push_back(landing);
}

/// What it takes to get to a place beyond a gap; nothing where that is over the agent's limits.
std::optional<Landing> Landings::judge(const BrinkPlace& place, const nav::Place& at, double gap, double aside) const {
  const nav::Agent& agent = mesh_.agent;
  const double rise = at.position.y - place.at.position.y;
  if (isDrop(aside, -rise)) return -rise <= agent.maxDrop + kGrace ? std::optional(Landing{LinkKind::drop, at, false}) : std::nullopt;
  const double fall = std::max(agent.maxDrop, agent.stepHeight) + kGrace, highest = agent.maxRise + kGrace;
  if (agent.maxJump == 0 || gap > agent.maxJump + kGrace || rise > highest || -rise > fall) return std::nullopt;
  return Landing{LinkKind::jump, at, rise <= fall && -rise <= highest && !isDrop(aside, rise)};
}

}  // namespace dune::links
