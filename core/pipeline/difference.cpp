#include "core/pipeline/difference.h"

#include <algorithm>
#include <set>
#include <tuple>

#include "core/base/plan_geometry.h"
#include "core/base/plan_grid.h"
#include "core/base/union_find.h"

namespace dune::pipeline {

namespace {

constexpr double kLeastWidth = 0.004;  // metres: thinner pieces come from rounding to the lattice and simplified borders
constexpr double kLeastArea = 1e-3;    // m²
constexpr double kTouching = 0.02;     // metres

using Corners = std::vector<Vec3>;

Vec3 middle(const Corners& corners) {
  Vec3 sum{0};
  for (const Vec3& p : corners) sum += p;
  return sum / static_cast<double>(corners.size());
}

Box2 boxOf(const Corners& corners) {
  Box2 box;
  for (const Vec3& p : corners) box.add(plan(p));
  return box;
}

/// The part of a polygon on one side of the plan line a → b: left of it, or right.
Corners side(Corners polygon, const Vec2& a, const Vec2& b, bool left) {
  clipByLine(polygon, a, b, left);
  return polygon;
}

bool worthKeeping(const Corners& corners) {
  if (corners.size() < 3) return false;
  double around = 0;
  for (std::size_t i = 0; i < corners.size(); ++i) around += glm::distance(plan(corners[i]), plan(corners[(i + 1) % corners.size()]));
  const double area = planArea(corners);
  return area > kLeastArea && 2 * area / around > kLeastWidth;
}

Corners cornersOf(const nav::NavMesh& mesh, std::uint32_t f) {
  Corners corners;
  for (const std::uint32_t v : mesh.cornersOf(nav::FaceId{f})) corners.push_back(mesh.vertices[v]);
  return corners;
}

/// What is left of convex pieces when a convex face is taken away.
std::vector<Corners> without(const std::vector<Corners>& pieces, const nav::NavMesh& mesh, std::uint32_t f, double reach) {
  const Corners face = cornersOf(mesh, f);
  std::vector<Corners> left;
  for (const Corners& piece : pieces) {
    Corners inside = piece;
    std::vector<Corners> outside;
    for (std::size_t i = 0; i < face.size() && inside.size() >= 3; ++i) {
      const Vec2 a = plan(face[i]), b = plan(face[(i + 1) % face.size()]);
      if (Corners beyond = side(inside, a, b, false); worthKeeping(beyond)) outside.push_back(std::move(beyond));
      inside = side(std::move(inside), a, b, true);
    }
    const bool covered = inside.size() >= 3 && planArea(inside) > 1e-9;
    if (!covered || std::abs(heightOn(mesh, nav::FaceId{f}, plan(middle(inside))) - middle(inside).y) > reach)
      left.push_back(piece);
    else
      left.insert(left.end(), outside.begin(), outside.end());
  }
  return left;
}

}  // namespace

std::vector<Patch> groundBeyond(const nav::NavMesh& a, const nav::NavMesh& b, double reach) {
  std::vector<Box2> boxes;
  std::vector<Corners> known;
  for (std::uint32_t f = 0; f < b.faceCount(); ++f) known.push_back(cornersOf(b, f)), boxes.push_back(boxOf(known.back()));
  auto less = [](const Corners& x, const Corners& y) {
    return std::lexicographical_compare(x.begin(), x.end(), y.begin(), y.end(),
                                        [](const Vec3& p, const Vec3& q) { return std::tie(p.x, p.y, p.z) < std::tie(q.x, q.y, q.z); });
  };
  std::sort(known.begin(), known.end(), less);
  const PlanGrid grid(boxes, 2);
  std::vector<Patch> patches;
  for (std::uint32_t f = 0; f < a.faceCount(); ++f) {
    const Corners face = cornersOf(a, f);
    if (std::binary_search(known.begin(), known.end(), face, less)) continue;  // most faces are the same in both
    std::vector<Corners> pieces{face};
    for (const std::uint32_t g : grid.collect(boxOf(face))) {
      pieces = without(pieces, b, g, reach);
      if (pieces.empty()) break;
    }
    for (Corners& piece : pieces)
      if (worthKeeping(piece)) patches.push_back({piece, planArea(piece)});
  }
  return patches;
}

std::vector<PatchGroup> grouped(std::vector<Patch> patches) {
  UnionFind sets(patches.size());
  std::vector<Box2> boxes;
  for (const Patch& p : patches) boxes.push_back(boxOf(p.corners));
  const PlanGrid grid(boxes, 2);
  for (std::uint32_t i = 0; i < patches.size(); ++i)
    for (const std::uint32_t j : grid.collect(boxes[i].grown(kTouching))) {
      constexpr double kStorey = 0.5;  // metres
      if (j >= i || std::abs(middle(patches[i].corners).y - middle(patches[j].corners).y) > kStorey) continue;
      sets.unite(i, j);
    }
  std::vector<PatchGroup> groups;
  std::vector<std::size_t> groupOf(patches.size());
  for (std::uint32_t i = 0; i < patches.size(); ++i) {
    if (sets.find(i) == i) groupOf[i] = groups.size(), groups.emplace_back();
    PatchGroup& group = groups[groupOf[sets.find(i)]];
    group.area += patches[i].area;
    group.patches.push_back(std::move(patches[i]));
  }
  for (PatchGroup& group : groups) {
    std::stable_sort(group.patches.begin(), group.patches.end(), [](const Patch& x, const Patch& y) { return x.area > y.area; });
    group.at = middle(group.patches[0].corners);
  }
  std::stable_sort(groups.begin(), groups.end(), [](const PatchGroup& x, const PatchGroup& y) { return x.area > y.area; });
  return groups;
}

}  // namespace dune::pipeline
