#include "core/hand/shape.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/plan_geometry.h"
#include "core/base/text.h"
#include "core/generate/face_shape.h"
#include "core/generate/merge.h"
#include "core/generate/triangulation.h"

namespace dune::hand {

namespace {

constexpr double kLeastArea = 1e-4;  // m²

std::vector<LatticePoint> latticeOf(const std::vector<Vec3>& outline) {
  std::vector<LatticePoint> points;
  for (const Vec3& p : outline) points.push_back(toLattice(plan(p)));
  return points;
}

bool isPlace(const Vec3& p) {
  return isFinite(p) && std::max({std::abs(p.x), std::abs(p.y), std::abs(p.z)}) < static_cast<double>(kLatticeMax - 2048) * kLatticeStep;
}

/// Where two sides of an outline meet that are not next to each other.
std::optional<std::size_t> crossesItself(const std::vector<LatticePoint>& p) {
  const std::size_t n = p.size();
  for (std::size_t i = 0; i < n; ++i)
    for (std::size_t k = i + 1; k < n; ++k) {
      const auto &a = p[i], &b = p[(i + 1) % n], &c = p[k], &d = p[(k + 1) % n];
      if (properlyCross(a, b, c, d)) return i;
      if (k == i + 1 || (i == 0 && k == n - 1)) continue;
      if (onSegment(a, b, c) || onSegment(a, b, d) || onSegment(c, d, a) || onSegment(c, d, b)) return i;
    }
  return std::nullopt;
}

}  // namespace

std::string placeText(const Vec3& p) { return text("at %.2f, %.2f, %.2f", p.x, p.y, p.z); }

bool isFace(const std::vector<Vec3>& corners) {
  if (corners.size() < 3 || !std::ranges::all_of(corners, isPlace)) return false;
  return isConvex(latticeOf(corners)) && planArea(corners) > 0;
}

Vec3 onLattice(const Vec3& p) { return lift(toPlan(toLattice(plan(p))), roundHeight(p.y)); }

std::vector<Vec3> onLattice(const std::vector<Vec3>& outline) {
  std::vector<Vec3> kept;
  for (const Vec3& p : outline) {
    const Vec3 at = onLattice(p);
    if (kept.empty() || (plan(kept.back()) != plan(at) && plan(kept.front()) != plan(at))) kept.push_back(at);
  }
  return kept;
}

Result<std::vector<std::vector<Vec3>>> convexFaces(const std::vector<Vec3>& drawn) {
  for (const Vec3& p : drawn)
    if (!isPlace(p)) return Problem{ProblemCode::usage, "A corner is not a place within 65 km of the origin.", {}, {}};
  const std::vector<Vec3> outline = onLattice(drawn);
  const std::string where = outline.empty() ? std::string() : placeText(outline.front());
  if (outline.size() < 3 || std::abs(planArea(outline)) < kLeastArea)
    return Problem{ProblemCode::unusable, "The face would have no area seen from above.", where,
                   "corners that are farther apart; use a climb link for what is upright."};
  const std::vector<LatticePoint> points = latticeOf(outline);
  if (const auto at = crossesItself(points))
    return Problem{ProblemCode::unusable, "The outline of the face would cross itself.", placeText(outline[*at]),
                   "corners in their order around the face."};
  if (planArea(outline) < 0)
    return Problem{ProblemCode::unusable, "The face would lie upside down.", where, "a smaller move, or deleting the face."};
  if (isConvex(points)) return std::vector<std::vector<Vec3>>{outline};
  auto plan = generate::Triangulation::around(points);
  std::map<LatticePoint, std::uint32_t> number;
  for (std::uint32_t i = 0; i < points.size(); ++i) number[points[i]] = i;
  for (std::size_t i = 0; i < points.size(); ++i) plan.constrain(points[i], points[(i + 1) % points.size()], 1);
  Polygon shape;
  for (const LatticePoint& p : points) shape.push_back(toPlan(p));
  std::vector<std::array<std::uint32_t, 3>> triangles;
  for (std::int32_t t = 0; t < static_cast<std::int32_t>(plan.triangles().size()); ++t) {
    const std::array<LatticePoint, 3> c{plan.corner(t, 0), plan.corner(t, 1), plan.corner(t, 2)};
    if (!contains(shape, (toPlan(c[0]) + toPlan(c[1]) + toPlan(c[2])) / 3.0)) continue;
    if (!std::ranges::all_of(c, [&](const LatticePoint& p) { return number.contains(p); })) continue;
    triangles.push_back({number[c[0]], number[c[1]], number[c[2]]});
  }
  std::vector<std::vector<Vec3>> faces;
  for (const generate::Loop& loop : generate::mergeInPlan(points, triangles)) {
    faces.emplace_back();
    for (const std::uint32_t v : loop) faces.back().push_back(outline[v]);
  }
  return faces;
}

std::vector<Vec3> outlineAround(const std::vector<std::vector<Vec3>>& faces) {
  struct Less {
    bool operator()(const Vec3& a, const Vec3& b) const { return std::tie(a.x, a.y, a.z) < std::tie(b.x, b.y, b.z); }
  };
  std::map<Vec3, std::set<Vec3, Less>, Less> next;  // where the sides from a corner lead, but for those that two faces share
  for (const auto& face : faces)
    for (std::size_t i = 0; i < face.size(); ++i) {
      const Vec3 &a = face[i], &b = face[(i + 1) % face.size()];
      if (const auto back = next.find(b); back != next.end() && back->second.erase(a) > 0) continue;
      next[a].insert(b);
    }
  std::erase_if(next, [](const auto& from) { return from.second.empty(); });
  if (next.empty()) return {};
  std::vector<Vec3> loop{next.begin()->first};
  while (true) {
    const auto at = next.find(loop.back());
    if (at == next.end() || at->second.size() != 1) return {};
    const Vec3 to = *at->second.begin();
    next.erase(at);
    if (to == loop.front()) break;
    loop.push_back(to);
  }
  if (!next.empty()) return {};
  constexpr double kStraight = 0.01;  // m in height
  const auto lattice = [](const Vec3& p) { return toLattice(plan(p)); };
  std::vector<Vec3> corners;
  for (std::size_t i = 0; i < loop.size(); ++i)
    if (!generate::straightAt(loop, lattice, std::identity{}, i, kStraight)) corners.push_back(loop[i]);
  return corners;
}

}  // namespace dune::hand
