#include "core/links/short_walk.h"

#include <queue>
#include <unordered_map>

#include "core/base/plan_geometry.h"

namespace dune::links {

namespace {
/// The point of segment ab at which the way from `from` to `to` over it is about shortest: where the straight way meets it, or its nearer
/// end.
Vec2 over(const Vec2& a, const Vec2& b, const Vec2& from, const Vec2& to) {
  if (const auto t = crossingParameter(a, b, from, to)) return a + (b - a) * std::clamp(*t, 0.0, 1.0);
  return nearestOnSegment(a, b, from);
}
}  // namespace

bool walksWithin(const nav::NavMesh& mesh, const nav::Place& from, const nav::Place& to, double most) {
  if (mesh.island[index(from.face)] != mesh.island[index(to.face)]) return false;
  const Vec2 goal = plan(to.position);
  struct Open {
    double bound, walked;
    Vec2 at;
    nav::FaceId face;
    bool operator<(const Open& o) const { return bound > o.bound; }
  };
  std::priority_queue<Open> open;
  std::unordered_map<std::uint32_t, double> best;
  open.push({glm::distance(plan(from.position), goal), 0, plan(from.position), from.face});
  while (!open.empty()) {
    const Open now = open.top();
    open.pop();
    if (now.bound > most) return false;
    if (now.face == to.face) return true;
    const auto known = best.find(index(now.face));
    if (known != best.end() && known->second <= now.walked) continue;
    best[index(now.face)] = now.walked;
    for (std::size_t i = 0, n = mesh.cornerCount(now.face); i < n; ++i) {
      const nav::FaceId g = mesh.acrossOf(now.face)[i];
      if (g == nav::kNoFace) continue;
      const Vec2 q = over(plan(mesh.cornerAt(now.face, i)), plan(mesh.cornerAt(now.face, (i + 1) % n)), now.at, goal);
      const double walked = now.walked + glm::distance(now.at, q);
      open.push({walked + glm::distance(q, goal), walked, q, g});
    }
  }
  return false;
}

}  // namespace dune::links
