#include "core/nav/navmesh.h"

#include <algorithm>
#include <numeric>

#include "core/base/plan_geometry.h"
#include "core/nav/pieces.h"

namespace dune::nav {

bool onBothSides(const Vec3& a, const Vec3& b) {
  constexpr double kFarthest = 2.5 * kOverBorder;  // metres in plan
  constexpr double kSteepest = 0.08;               // metres that ground may rise over them, at 82 degrees
  return glm::distance(plan(a), plan(b)) <= kFarthest && std::abs(a.y - b.y) <= kSteepest;
}

bool isOneWayBorder(const Link& link) { return link.kind == LinkKind::door && link.oneWay && onBothSides(link.from, link.to); }

double faceArea(const NavMesh& mesh, FaceId f) {
  double sum = 0;
  const Vec2 origin = plan(mesh.cornerAt(f, 0));
  for (std::size_t i = 1; i + 1 < mesh.cornerCount(f); ++i)
    sum += cross(plan(mesh.cornerAt(f, i)) - origin, plan(mesh.cornerAt(f, i + 1)) - origin);
  return sum / 2;
}

Vec3 middleOf(const NavMesh& mesh, FaceId f) {
  Vec3 sum{0};
  for (const std::uint32_t v : mesh.cornersOf(f)) sum += mesh.vertices[v];
  return sum / static_cast<double>(mesh.cornerCount(f));
}

std::vector<std::string> tagNamesOf(const NavMesh& mesh, FaceId f) {
  std::vector<std::string> names;
  for (std::size_t i = 0; i < mesh.tags.size(); ++i)
    if (mesh.tagsOf(f) >> i & 1) names.push_back(mesh.tags[i]);
  return names;
}

double totalArea(const NavMesh& mesh) {
  double sum = 0;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) sum += faceArea(mesh, FaceId{f});
  return sum;
}

Vec3 faceNormal(const NavMesh& mesh, FaceId f) {
  Vec3 sum{0};  // Newell's: of the polygon's area in each of the three planes
  for (std::size_t i = 0, n = mesh.cornerCount(f); i < n; ++i) sum += glm::cross(mesh.cornerAt(f, i), mesh.cornerAt(f, (i + 1) % n));
  return sum.y > 0 ? glm::normalize(sum) : Vec3{0, 1, 0};
}

double heightOn(const NavMesh& mesh, FaceId f, const Vec2& q) { return nearestOnFace(mesh, f, lift(q, 0)).y; }

bool coversPlan(const NavMesh& mesh, FaceId f, const Vec2& q, double slack) {
  const auto corners = mesh.cornersOf(f);
  Vec2 b = plan(mesh.vertices[corners.back()]);
  for (const std::uint32_t corner : corners) {
    const Vec2 a = b;
    b = plan(mesh.vertices[corner]);
    const Vec2 edge = b - a;
    const double side = cross(edge, q - a);
    if (side < 0 && (slack == 0 || side < -slack * glm::length(edge))) return false;
  }
  return true;
}

namespace {

/// Of all edges, not of those alone that q lies outside of: of several on one line rounding may leave the wrong one.
Vec3 nearestOnBorder(const NavMesh& mesh, FaceId f, const Vec2& q) {
  Vec3 best{0};
  double bestDistance = std::numeric_limits<double>::infinity();
  for (std::size_t i = 0, n = mesh.cornerCount(f); i < n; ++i) {
    const Vec3 &a = mesh.cornerAt(f, i), &b = mesh.cornerAt(f, (i + 1) % n);
    const Vec2 near = nearestOnSegment(plan(a), plan(b), q);
    const double d = glm::distance(near, q), length = glm::distance(plan(a), plan(b));
    if (d >= bestDistance) continue;
    best = lift(near, glm::mix(a.y, b.y, length > 0 ? glm::distance(plan(a), near) / length : 0)), bestDistance = d;
  }
  return best;
}

/// The fan triangle that q lies in gives the height; where that is none, for its corners are on one line, q is on the border.
double heightInside(const NavMesh& mesh, FaceId f, const Vec2& q) {
  const Vec3& a = mesh.cornerAt(f, 0);
  const std::size_t last = mesh.cornerCount(f) - 2;
  std::size_t i = 1;
  while (i < last && cross(plan(mesh.cornerAt(f, i + 1)) - plan(a), q - plan(a)) > 0) ++i;
  const Vec3 &b = mesh.cornerAt(f, i), &c = mesh.cornerAt(f, i + 1);
  const Vec2 ab = plan(b) - plan(a), ac = plan(c) - plan(a), aq = q - plan(a);
  const double det = cross(ab, ac);
  if (det == 0) return nearestOnBorder(mesh, f, q).y;
  return a.y + (b.y - a.y) * cross(aq, ac) / det + (c.y - a.y) * cross(ab, aq) / det;
}

}  // namespace

Vec3 nearestOnFace(const NavMesh& mesh, FaceId f, const Vec3& p) {
  const Vec2 q = plan(p);
  return coversPlan(mesh, f, q, 0) ? lift(q, heightInside(mesh, f, q)) : nearestOnBorder(mesh, f, q);
}

void labelIslands(NavMesh& mesh) {
  Pieces pieces = piecesOf(mesh, [](FaceId) { return true; });
  mesh.island = std::move(pieces.of);
  std::vector<double> area(pieces.count, 0);
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) area[mesh.island[f]] += faceArea(mesh, FaceId{f});
  std::vector<std::uint32_t> order(area.size()), rank(area.size());
  std::iota(order.begin(), order.end(), 0u);
  std::stable_sort(order.begin(), order.end(), [&](auto a, auto b) { return area[a] > area[b]; });
  for (std::uint32_t i = 0; i < order.size(); ++i) rank[order[i]] = i;
  for (std::uint32_t& label : mesh.island) label = rank[label];
}

std::size_t countIslands(const NavMesh& mesh) {
  std::uint32_t most = 0;
  for (const std::uint32_t i : mesh.island) most = std::max(most, i + 1);
  return most;
}

}  // namespace dune::nav
