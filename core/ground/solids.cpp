// Welding and the matching of edges sort instead of hashing, so that nothing depends on a hash table.

#include "core/ground/solids.h"

#include <algorithm>
#include <array>
#include <numeric>

#include "core/base/plan_grid.h"
#include "core/ground/triangle.h"
#include "core/ground/tuning.h"

namespace dune::ground {

namespace {

struct UnionFind {
  std::vector<std::uint32_t> parent;
  explicit UnionFind(std::size_t n) : parent(n) { std::iota(parent.begin(), parent.end(), 0u); }
  std::uint32_t find(std::uint32_t i) {
    while (parent[i] != i) i = parent[i] = parent[parent[i]];
    return i;
  }
  void unite(std::uint32_t a, std::uint32_t b) {
    a = find(a), b = find(b);
    parent[std::max(a, b)] = std::min(a, b);
  }
};

/// A number for every vertex, the same for vertices at one place.
std::vector<std::uint32_t> weldVertices(const level::Object& object) {
  struct Key {
    std::array<std::int64_t, 3> at;
    std::uint32_t vertex;
    auto operator<=>(const Key&) const = default;
  };
  std::vector<Key> keys(object.vertices.size());
  for (std::uint32_t i = 0; i < keys.size(); ++i) {
    const Vec3& p = object.vertices[i];
    keys[i] = {{std::llround(p.x / tuning::kWeld), std::llround(p.y / tuning::kWeld), std::llround(p.z / tuning::kWeld)}, i};
  }
  std::sort(keys.begin(), keys.end());
  std::vector<std::uint32_t> welded(keys.size());
  for (std::size_t i = 0; i < keys.size(); ++i)
    welded[keys[i].vertex] = i > 0 && keys[i].at == keys[i - 1].at ? welded[keys[i - 1].vertex] : keys[i].vertex;
  return welded;
}

struct Half {
  std::uint32_t a, b, triangle;
  auto operator<=>(const Half&) const = default;
};

std::vector<Half> halves(const level::Object& object, const std::vector<char>& counts) {
  const std::vector<std::uint32_t> welded = weldVertices(object);
  std::vector<Half> all;
  all.reserve(object.triangles.size() * 3);
  for (std::uint32_t t = 0; t < object.triangles.size(); ++t)
    for (std::size_t e = 0; e < 3 && counts[t]; ++e) {
      const std::uint32_t a = welded[object.triangles[t][e]], b = welded[object.triangles[t][(e + 1) % 3]];
      all.push_back({std::min(a, b), std::max(a, b), t});
    }
  std::sort(all.begin(), all.end());
  return all;
}

std::vector<std::int32_t> closedPieces(const level::Object& object, const std::vector<char>& counts) {
  const std::vector<Half> all = halves(object, counts);
  UnionFind pieces(object.triangles.size());
  std::vector<char> openTriangle(object.triangles.size(), 0);
  for (std::size_t i = 0; i < all.size();) {
    std::size_t end = i + 1;
    for (; end < all.size() && all[end].a == all[i].a && all[end].b == all[i].b; ++end) pieces.unite(all[end].triangle, all[i].triangle);
    if ((end - i) % 2 != 0) openTriangle[all[i].triangle] = 1;  // an even number of triangles closes an edge
    i = end;
  }
  std::vector<char> open(object.triangles.size(), 0);
  for (std::uint32_t t = 0; t < open.size(); ++t)
    if (openTriangle[t]) open[pieces.find(t)] = 1;
  std::vector<std::int32_t> piece(object.triangles.size(), -1);
  for (std::uint32_t t = 0; t < piece.size(); ++t)
    if (const std::uint32_t root = pieces.find(t); counts[t] && !open[root]) piece[t] = static_cast<std::int32_t>(root);
  return piece;
}

/// Within one closed piece the upper side of a triangle is inside or outside all over; its centre decides.
std::vector<char> findUndersides(const std::vector<Triangle>& triangles, const std::vector<std::uint32_t>& numbers,
                                 const std::vector<std::int32_t>& piece) {
  std::vector<char> underside(piece.size(), 0);
  std::vector<Box2> boxes(triangles.size());
  for (std::size_t i = 0; i < boxes.size(); ++i)
    for (const Vec2& q : triangles[i].q) boxes[i].add(q);
  const PlanGrid grid(boxes, tuning::kCellHint);
  for (std::size_t i = 0; i < triangles.size(); ++i) {
    if (triangles[i].upright) continue;
    const Vec2 q = (triangles[i].q[0] + triangles[i].q[1] + triangles[i].q[2]) / 3.0;
    const double y = triangles[i].heightAt(q);
    int above = 0;
    for (const std::uint32_t k : grid.at(q))
      above += k != i && piece[numbers[k]] == piece[numbers[i]] && triangles[k].owns(q) && triangles[k].heightAt(q) > y;
    underside[numbers[i]] = above % 2 == 1;
  }
  return underside;
}

}  // namespace

Solids findSolids(const level::Object& object) {
  std::vector<char> counts(object.triangles.size(), 0);
  for (std::uint32_t t = 0; t < counts.size(); ++t) counts[t] = makeTriangle(object, t).has_value();
  Solids solids;
  solids.piece = closedPieces(object, counts);
  std::vector<Triangle> closed;
  std::vector<std::uint32_t> numbers;
  for (std::uint32_t t = 0; t < counts.size(); ++t)
    if (solids.piece[t] >= 0) closed.push_back(*makeTriangle(object, t)), numbers.push_back(t);
  solids.underside = findUndersides(closed, numbers, solids.piece);
  return solids;
}

}  // namespace dune::ground
