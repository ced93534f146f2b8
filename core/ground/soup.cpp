// Typical size: a hundred to ten thousand triangles. Welding sorts instead of hashing so that nothing depends on a hash table.

#include "core/ground/soup.h"

#include <algorithm>
#include <numeric>

#include "core/ground/tuning.h"

namespace dune::ground {

Soup::Soup(const level::World& world) {
  const auto& objects = world.level->objects;
  for (std::uint32_t o = 0; o < objects.size(); ++o) {
    if (world.roles[o] == level::Role::ignored) continue;
    const Solids solids = findSolids(objects[o], Job());
    for (std::uint32_t t = 0; t < objects[o].triangles.size(); ++t) add(world, o, t, solids);
  }
  index();
}

Soup::Soup(const level::World& world, const Survey& survey, std::span<const std::uint32_t> numbers) {
  triangles_.reserve(numbers.size());
  solid_.reserve(numbers.size());
  for (const std::uint32_t number : numbers) {
    const auto [object, triangle] = survey.sourceOf(number);
    add(world, object, triangle, survey.solidsOf(object));
  }
  index();
}

void Soup::add(const level::World& world, std::uint32_t object, std::uint32_t triangle, const Solids& solids) {
  if (solids.repeated[triangle]) return;
  auto t = makeTriangle(world.level->objects[object], triangle);
  if (!t) return;
  t->object = object;
  t->role = world.roles[object];
  t->underside = solids.underside[triangle] != 0;
  triangles_.push_back(*t);
  const std::int64_t piece = solids.piece[triangle];
  solid_.push_back(piece < 0 ? -1 : (static_cast<std::int64_t>(object) << 32 | piece));
}

void Soup::weld() {
  // Corners: sort by rounded position, number the distinct ones.
  const std::size_t n = triangles_.size();
  struct Key {
    std::array<std::int64_t, 3> at;
    std::uint32_t slot;
    auto operator<=>(const Key&) const = default;
  };
  std::vector<Key> keys(n * 3);
  for (std::uint32_t i = 0; i < n * 3; ++i) {
    const Vec3& p = triangles_[i / 3].p[i % 3];
    keys[i] = {{std::llround(p.x / tuning::kWeld), std::llround(p.y / tuning::kWeld), std::llround(p.z / tuning::kWeld)}, i};
  }
  std::sort(keys.begin(), keys.end());
  std::vector<std::uint32_t> corner(n * 3);
  std::uint32_t number = 0;
  for (std::size_t i = 0; i < keys.size(); ++i) {
    if (i > 0 && keys[i].at != keys[i - 1].at) ++number;
    corner[keys[i].slot] = number;
  }
  // Edges: the same with the sorted pair of corner numbers.
  struct Edge {
    std::uint32_t a, b, slot;
    auto operator<=>(const Edge&) const = default;
  };
  std::vector<Edge> edges(n * 3);
  for (std::uint32_t i = 0; i < n * 3; ++i) {
    const std::uint32_t a = corner[i], b = corner[i / 3 * 3 + (i + 1) % 3];
    edges[i] = {std::min(a, b), std::max(a, b), i};
  }
  std::sort(edges.begin(), edges.end());
  edgeOf_.resize(n * 3);
  edgeStart_.clear(), edgeTriangles_.clear();
  for (std::size_t i = 0; i < edges.size(); ++i) {
    if (i == 0 || edges[i].a != edges[i - 1].a || edges[i].b != edges[i - 1].b) edgeStart_.push_back(static_cast<std::uint32_t>(i));
    edgeOf_[edges[i].slot] = static_cast<std::uint32_t>(edgeStart_.size() - 1);
    edgeTriangles_.push_back(edges[i].slot / 3);
  }
  edgeStart_.push_back(static_cast<std::uint32_t>(edges.size()));
}

std::span<const std::uint32_t> Soup::across(std::uint32_t triangle, int e) const {
  const std::uint32_t edge = edgeOf_[triangle * 3u + static_cast<std::size_t>(e)];
  return std::span(edgeTriangles_).subspan(edgeStart_[edge], edgeStart_[edge + 1] - edgeStart_[edge]);
}

void Soup::addBridges(std::span<const Bridge> bridges) {
  for (const Bridge& b : bridges)
    for (const auto& corners : {std::array{b.corner[0], b.corner[1], b.corner[2]}, std::array{b.corner[0], b.corner[2], b.corner[3]}})
      if (auto t = makeTriangle(corners)) {
        t->object = b.object;
        t->role = level::Role::ground;
        t->slope = 0;  // a bridge over a hairline gap is a step, not a slope
        triangles_.push_back(*t);
        solid_.push_back(-1);
      }
  if (!bridges.empty()) index();
}

/// Sides go from the lesser end to the greater and are turned by sign, so that two triangles on both sides of an edge compute
/// the same number for it and never both miss a point.
Soup::Shape::Shape(const Triangle& t) {
  for (std::size_t e = 0; e < 3; ++e) {
    const Vec2 &a = t.q[e], &b = t.q[(e + 1) % 3];
    const bool forward = a.x < b.x || (a.x == b.x && a.y < b.y);
    sides[e] = {forward ? a : b, b - a};
  }
  if (!t.upright) box = t.box();  // an upright triangle covers nothing
}

void Soup::index() {
  std::vector<Box2> boxes(triangles_.size());
  shapes_.clear();
  shapes_.reserve(triangles_.size());
  for (std::size_t i = 0; i < boxes.size(); ++i) boxes[i] = triangles_[i].box(), shapes_.emplace_back(triangles_[i]);
  grid_ = PlanGrid(boxes, tuning::kCellHint);
  std::vector<std::array<Vec2, 3>> plan;
  plan.reserve(triangles_.size());
  std::vector<std::uint32_t> flat, all(triangles_.size());
  for (std::uint32_t i = 0; i < triangles_.size(); ++i) {
    plan.push_back(triangles_[i].q), all[i] = i;
    if (!triangles_[i].upright) flat.push_back(i);
  }
  upright_ = flat.size() < all.size();
  above_ = PlanTree(plan, std::move(flat));
  if (upright_) all_ = PlanTree(plan, std::move(all));
}

}  // namespace dune::ground
