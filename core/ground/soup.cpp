// Typical size: a thousand to a few million triangles. The hot operation is covers(), asked for every triangle of a grid
// cell; the rest runs once a build. Welding sorts instead of hashing so that numbers do not depend on a hash table.

#include "core/ground/soup.h"

#include <algorithm>
#include <numeric>

#include "core/ground/tuning.h"

namespace dune::ground {

namespace {

constexpr double kLeastArea = 1e-12;     // m²: thinner triangles carry no direction
constexpr double kUprightCosine = 1e-6;  // steeper than this a plane has no height worth computing

/// Orientation with a fixed order of the edge's ends, so that two triangles on both sides of an edge never both miss a point.
double side(const Vec2& a, const Vec2& b, const Vec2& at) {
  if (a.x < b.x || (a.x == b.x && a.y < b.y)) return cross(b - a, at - a);
  return -cross(a - b, at - b);
}

bool ownsSide(const Vec2& a, const Vec2& b, const Vec2& at) {
  const double s = side(a, b, at);
  return s > 0 || (s == 0 && (a.x < b.x || (a.x == b.x && a.y < b.y)));
}

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

}  // namespace

bool Triangle::covers(const Vec2& at) const {
  if (upright) return false;
  return side(q[0], q[1], at) >= 0 && side(q[1], q[2], at) >= 0 && side(q[2], q[0], at) >= 0;
}

bool Triangle::owns(const Vec2& at) const {
  return !upright && ownsSide(q[0], q[1], at) && ownsSide(q[1], q[2], at) && ownsSide(q[2], q[0], at);
}

Soup::Soup(const level::World& world) {
  const auto& objects = world.level->objects;
  triangles_.reserve(world.level->triangleCount());
  for (std::uint32_t o = 0; o < objects.size(); ++o) {
    if (world.roles[o] == level::Role::ignored) continue;
    for (const auto& t : objects[o].triangles)
      add({objects[o].vertices[t[0]], objects[o].vertices[t[1]], objects[o].vertices[t[2]]}, o, world.roles[o]);
  }
  weld();
  findSolids();
  index();
  findUndersides();
}

void Soup::add(const std::array<Vec3, 3>& p, std::uint32_t object, level::Role role) {
  Vec3 normal = glm::cross(p[1] - p[0], p[2] - p[0]);
  const double length = glm::length(normal);
  if (!(length > kLeastArea)) return;
  normal /= length;
  Triangle t{};
  t.p = p;
  t.object = object;
  t.role = role;
  if (normal.y < 0) {
    normal = -normal;
    std::swap(t.p[1], t.p[2]);
  }
  for (std::size_t i = 0; i < 3; ++i) t.q[i] = plan(t.p[i]);
  t.upright = normal.y < kUprightCosine;
  t.slope = std::atan2(std::hypot(normal.x, normal.z), normal.y);
  if (!t.upright) {
    t.gu = -normal.x / normal.y;
    t.gv = normal.z / normal.y;
    t.y0 = t.p[0].y - t.gu * t.q[0].x - t.gv * t.q[0].y;
  }
  triangles_.push_back(t);
}

void Soup::weld() {
  // Corners: sort by rounded position, number the distinct ones.
  const std::size_t n = triangles_.size();
  std::vector<std::array<std::int64_t, 3>> keys(n * 3);
  for (std::size_t i = 0; i < n * 3; ++i) {
    const Vec3& p = triangles_[i / 3].p[i % 3];
    keys[i] = {std::llround(p.x / tuning::kWeld), std::llround(p.y / tuning::kWeld), std::llround(p.z / tuning::kWeld)};
  }
  std::vector<std::uint32_t> order(n * 3);
  std::iota(order.begin(), order.end(), 0u);
  std::sort(order.begin(), order.end(), [&](auto a, auto b) { return keys[a] < keys[b] || (keys[a] == keys[b] && a < b); });
  corners_.resize(n);
  std::uint32_t number = 0;
  for (std::size_t i = 0; i < order.size(); ++i) {
    if (i > 0 && keys[order[i]] != keys[order[i - 1]]) ++number;
    corners_[order[i] / 3][order[i] % 3] = number;
  }
  // Edges: the same with the sorted pair of corner numbers.
  std::vector<std::array<std::uint32_t, 2>> ends(n * 3);
  for (std::size_t i = 0; i < n * 3; ++i) {
    const std::uint32_t a = corners_[i / 3][i % 3], b = corners_[i / 3][(i + 1) % 3];
    ends[i] = {std::min(a, b), std::max(a, b)};
  }
  std::iota(order.begin(), order.end(), 0u);
  std::sort(order.begin(), order.end(), [&](auto a, auto b) { return ends[a] < ends[b] || (ends[a] == ends[b] && a < b); });
  edgeOf_.resize(n * 3);
  for (std::size_t i = 0; i < order.size(); ++i) {
    if (i == 0 || ends[order[i]] != ends[order[i - 1]]) edgeStart_.push_back(static_cast<std::uint32_t>(i));
    edgeOf_[order[i]] = static_cast<std::uint32_t>(edgeStart_.size() - 1);
    edgeTriangles_.push_back(order[i] / 3);
  }
  edgeStart_.push_back(static_cast<std::uint32_t>(order.size()));
}

void Soup::findSolids() {
  const std::size_t n = triangles_.size();
  UnionFind pieces(n);
  for (std::size_t e = 0; e + 1 < edgeStart_.size(); ++e)
    for (std::uint32_t i = edgeStart_[e] + 1; i < edgeStart_[e + 1]; ++i)
      if (triangles_[edgeTriangles_[i]].object == triangles_[edgeTriangles_[edgeStart_[e]]].object)
        pieces.unite(edgeTriangles_[i], edgeTriangles_[edgeStart_[e]]);
  std::vector<char> open(n, 0);
  for (std::size_t t = 0; t < n; ++t)
    for (int e = 0; e < 3; ++e) {
      std::size_t own = 0;  // triangles of the same object at this edge: an even number closes it
      for (const std::uint32_t other : across(static_cast<std::uint32_t>(t), e)) own += triangles_[other].object == triangles_[t].object;
      if (own % 2 != 0) open[pieces.find(static_cast<std::uint32_t>(t))] = 1;
    }
  solid_.assign(n, -1);
  for (std::uint32_t t = 0; t < n; ++t)
    if (const std::uint32_t root = pieces.find(t); !open[root]) solid_[t] = static_cast<int>(root);
}

/// Within one closed piece the upper side of a triangle is inside or outside all over; its centre decides.
void Soup::findUndersides() {
  for (std::uint32_t t = 0; t < triangles_.size(); ++t) {
    Triangle& own = triangles_[t];
    if (solid_[t] < 0 || own.upright) continue;
    const Vec2 q = (own.q[0] + own.q[1] + own.q[2]) / 3.0;
    const double y = own.heightAt(q);
    int above = 0;
    for (const std::uint32_t i : grid_.at(q)) {
      const Triangle& other = triangles_[i];
      if (i != t && solid_[i] == solid_[t] && other.owns(q) && other.heightAt(q) > y) ++above;
    }
    own.underside = above % 2 == 1;
  }
}

std::span<const std::uint32_t> Soup::across(std::uint32_t triangle, int e) const {
  const std::size_t slot = triangle * 3u + static_cast<std::size_t>(e);
  if (slot >= edgeOf_.size()) return {};  // bridges are not welded
  const std::uint32_t edge = edgeOf_[slot];
  return std::span(edgeTriangles_).subspan(edgeStart_[edge], edgeStart_[edge + 1] - edgeStart_[edge]);
}

void Soup::addBridge(const std::array<Vec3, 3>& p, std::uint32_t object) {
  const std::size_t before = triangles_.size();
  add(p, object, level::Role::ground);
  if (triangles_.size() == before) return;
  triangles_.back().slope = 0;  // a bridge over a hairline gap is a step, not a slope
  solid_.push_back(-1);
}

void Soup::index() {
  std::vector<Box2> boxes(triangles_.size());
  for (std::size_t i = 0; i < boxes.size(); ++i)
    for (const Vec2& q : triangles_[i].q) boxes[i].add(q);
  grid_ = PlanGrid(boxes, tuning::kCellHint);
}

}  // namespace dune::ground
