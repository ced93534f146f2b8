#include "core/route/opening.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <queue>

#include "core/base/plan_grid.h"
#include "core/base/text.h"
#include "core/route/search.h"

namespace dune::route {

namespace {

using nav::FaceId;
using nav::index;
using nav::kNoFace;
using nav::NavMesh;
using nav::Place;

constexpr double kDear = 1e4;    // cost of a metre of forbidden ground beside that of all other: as little of it as can be
constexpr double kFlat = 0.005;  // m: less is no rise

struct BorderEdge {
  Vec3 a, b;
  std::uint32_t island;
};

std::vector<BorderEdge> borderOf(const NavMesh& mesh) {
  std::vector<BorderEdge> edges;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    for (std::size_t i = 0, n = mesh.cornerCount(FaceId{f}); i < n; ++i)
      if (mesh.acrossOf(FaceId{f})[i] == kNoFace)
        edges.push_back({mesh.cornerAt(FaceId{f}, i), mesh.cornerAt(FaceId{f}, (i + 1) % n), mesh.island[f]});
  return edges;
}

Vec3 nearestOn(const Vec3& a, const Vec3& b, const Vec3& p) {
  const Vec3 d = b - a;
  const double length2 = glm::dot(d, d);
  return length2 > 0 ? a + d * std::clamp(glm::dot(p - a, d) / length2, 0.0, 1.0) : a;
}

/// The nearest points of two edges that do not cross: one of the four ends is one of them. Where they cross in plan above each other the
/// crossing is as near.
std::pair<Vec3, Vec3> nearest(const BorderEdge& e, const BorderEdge& f) {
  std::pair<Vec3, Vec3> best{e.a, nearestOn(f.a, f.b, e.a)};
  const auto offer = [&](const Vec3& p, const Vec3& q) {
    if (glm::distance(p, q) < glm::distance(best.first, best.second)) best = {p, q};
  };
  offer(e.b, nearestOn(f.a, f.b, e.b));
  offer(nearestOn(e.a, e.b, f.a), f.a);
  offer(nearestOn(e.a, e.b, f.b), f.b);
  const Vec2 r = plan(e.b) - plan(e.a), s = plan(f.b) - plan(f.a);
  const double turn = cross(r, s);
  if (turn != 0) {
    const Vec2 to = plan(f.a) - plan(e.a);
    const double t = cross(to, s) / turn, u = cross(to, r) / turn;
    if (t >= 0 && t <= 1 && u >= 0 && u <= 1) offer(glm::mix(e.a, e.b, t), glm::mix(f.a, f.b, u));
  }
  return best;
}

struct Gap {
  Vec3 from{}, to{};
  double length = std::numeric_limits<double>::infinity();
};

/// The shortest gap between every two islands that come near each other, from the one with the lesser number.
std::map<std::pair<std::uint32_t, std::uint32_t>, Gap> gapsOf(const NavMesh& mesh, Job& job) {
  const std::vector<BorderEdge> edges = borderOf(mesh);
  std::vector<Box2> boxes;
  for (const BorderEdge& e : edges) {
    Box2& box = boxes.emplace_back();
    box.add(plan(e.a)), box.add(plan(e.b));
  }
  constexpr double kCell = 4;  // metres
  const PlanGrid grid(boxes, kCell);
  std::vector<std::uint32_t> near;
  std::map<std::pair<std::uint32_t, std::uint32_t>, Gap> gaps;
  for (std::size_t i = 0; i < edges.size() && !job.cancelled(); ++i) {
    grid.collect(boxes[i].grown(kMostGap), near);
    for (const std::uint32_t k : near) {
      if (edges[k].island <= edges[i].island) continue;
      const auto [p, q] = nearest(edges[i], edges[k]);
      const double length = glm::distance(p, q);
      if (length > kMostGap) continue;
      Gap& gap = gaps[{edges[i].island, edges[k].island}];
      if (length < gap.length) gap = {p, q, length};
    }
  }
  return gaps;
}

/// Dijkstra from the start's island to the goal's.
std::vector<Opening> overIslands(const Field& field, std::uint32_t from, std::uint32_t to, Job& job) {
  const NavMesh& mesh = field.mesh();
  struct Step {
    std::uint32_t to;
    Gap gap;
  };
  std::map<std::uint32_t, std::vector<Step>> steps;
  for (const auto& [pair, gap] : gapsOf(mesh, job)) {
    steps[pair.first].push_back({pair.second, gap});
    steps[pair.second].push_back({pair.first, {gap.to, gap.from, gap.length}});
  }
  for (const nav::Link& link : mesh.links) {
    const std::uint32_t a = mesh.island[index(link.fromFace)], b = mesh.island[index(link.toFace)];
    if (a == b || !field.rules().allows(link)) continue;
    steps[a].push_back({b, {link.from, link.to, 0}});
    if (!link.oneWay) steps[b].push_back({a, {link.to, link.from, 0}});
  }
  struct Known {
    double cost = std::numeric_limits<double>::infinity();
    std::uint32_t before = 0;
    Gap gap;
  };
  std::map<std::uint32_t, Known> known;
  using Open = std::pair<double, std::uint32_t>;
  std::priority_queue<Open, std::vector<Open>, std::greater<>> open;
  known[from].cost = 0;
  open.emplace(0, from);
  while (!open.empty()) {
    const auto [cost, at] = open.top();
    open.pop();
    if (at == to) break;
    if (cost > known[at].cost) continue;
    for (const Step& step : steps[at]) {
      Known& next = known[step.to];
      if (cost + step.gap.length >= next.cost) continue;
      next = {cost + step.gap.length, at, step.gap};
      open.emplace(next.cost, step.to);
    }
  }
  std::vector<Opening> openings;
  if (!std::isfinite(known[to].cost)) return {};
  for (std::uint32_t at = to; at != from; at = known[at].before)
    if (const Gap& gap = known[at].gap; gap.length > 0) openings.push_back({true, gap.from, gap.to, gap.length, 0});
  std::ranges::reverse(openings);
  return openings;
}

/// The way with the least forbidden ground, and what it crosses of that.
std::vector<Opening> overForbidden(const Field& field, const Place& start, const Place& goal) {
  const NavMesh& mesh = field.mesh();
  nav::Rules open = field.rules();
  std::vector<char> forbidden(mesh.kinds.size(), 0);
  for (std::size_t k = 0; k < open.kinds.size() && k < forbidden.size(); ++k)
    if (open.kinds[k].forbidden) forbidden[k] = 1, open.kinds[k] = {kDear, 0, false};
  if (std::ranges::find(forbidden, 1) == forbidden.end()) return {};
  const Field allowed(mesh, open);
  if (!allowed.reaches(start.face, goal.face)) return {};
  Search search(allowed);
  const std::vector<WayPoint> way = search.find(start, goal);
  std::vector<Opening> openings;
  for (std::size_t i = 0; i + 1 < way.size(); ++i) {
    const std::uint16_t kind = mesh.area[index(way[i].face)];
    if (way[i].link >= 0 || !forbidden[kind]) continue;
    const bool goesOn = !openings.empty() && openings.back().kind == kind && openings.back().to == way[i].at;
    if (!goesOn) openings.push_back({false, way[i].at, way[i].at, 0, kind});
    openings.back().length += glm::distance(way[i].at, way[i + 1].at), openings.back().to = way[i + 1].at;
  }
  std::erase_if(openings, [](const Opening& o) { return o.length == 0; });
  return openings;
}

}  // namespace

std::vector<Opening> openingsBetween(const Field& field, const Place& start, const Place& goal, Job& job) {
  if (!start.valid() || !goal.valid() || field.reaches(start.face, goal.face)) return {};
  const NavMesh& mesh = field.mesh();
  std::vector<Opening> openings = overForbidden(field, start, goal);
  if (!openings.empty() || job.cancelled()) return openings;
  openings = overIslands(field, mesh.island[index(start.face)], mesh.island[index(goal.face)], job);
  return job.cancelled() ? std::vector<Opening>{} : openings;
}

std::string wordsOf(const Opening& o, const NavMesh& mesh) {
  if (!o.gap) return text("%.2f m of %s", o.length, mesh.kinds[o.kind].name.c_str());
  const double aside = glm::distance(plan(o.from), plan(o.to)), rise = o.to.y - o.from.y;
  std::string words = text("a gap of %.2f m", aside);
  if (std::abs(rise) > kFlat) words += text(rise > 0 ? " with a rise of %.2f m" : " with a fall of %.2f m", std::abs(rise));
  return words;
}

}  // namespace dune::route
