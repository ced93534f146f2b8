#include "core/flight/obstacles.h"

#include <algorithm>
#include <cmath>
#include <map>

// Typically 10 000 to a million triangles and tens of millions of questions about places between them.

namespace dune::flight {

namespace {

constexpr std::uint32_t kLeaf = 4;

}  // namespace

Box3 boxOf(const Corners& corners) {
  Box3 box;
  for (const Vec3& p : corners) box.add(p);
  return box;
}

Obstacles::Flat::Flat(const Corners& c) : corner(c), normal(glm::cross(c[1] - c[0], c[2] - c[0])), offset(0) {
  const double length = glm::length(normal);
  normal = length > 0 ? normal / length : Vec3(0);
  // Rounded towards "near", for all three corners.
  offset = (glm::dot(normal, c[0]) + glm::dot(normal, c[1]) + glm::dot(normal, c[2])) / 3;
}

Obstacles::Obstacles(std::vector<Barrier> barriers, Job* job) : barriers_(std::move(barriers)) {
  std::vector<Box3> boxes;
  boxes.reserve(barriers_.size());
  for (const Barrier& b : barriers_) boxes.push_back(boxOf(b.corner));
  nodes_ = BoxNodes(boxes, kLeaf, job);
  ordered_.reserve(barriers_.size());
  for (const std::uint32_t i : nodes_.order()) ordered_.emplace_back(barriers_[i].corner);
}

Obstacles::Near Obstacles::nearest(const Vec3& p, double limit, Which which) const {
  Near best{limit, -1, {}};
  if (nodes_.empty()) return best;
  double square = limit * limit;
  // A hair more than the nearest so far: rounding must not hide what is as near, of which the first one is asked for.
  const auto farther = [&](double other) { return other > square * (1 + 1e-12); };
  struct Entry {
    std::uint32_t node;
    double square;
  } stack[64];
  std::uint32_t depth = 0;
  stack[depth++] = {0, squareTo(nodes_[0].box, p)};
  while (depth) {
    const Entry entry = stack[--depth];
    if (farther(entry.square)) continue;
    const BoxNodes::Node& node = nodes_[entry.node];
    if (!node.leaf()) {
      const Entry one{entry.node + 1, squareTo(nodes_[entry.node + 1].box, p)}, two{node.second, squareTo(nodes_[node.second].box, p)};
      const bool first = one.square <= two.square;
      if (!farther((first ? two : one).square)) stack[depth++] = first ? two : one;
      if (!farther((first ? one : two).square)) stack[depth++] = first ? one : two;
      continue;
    }
    for (std::uint32_t i = node.from; i < node.to; ++i) {
      if (ordered_[i].beyond(p, p, best.distance * (1 + 1e-9) + 1e-9) || !counts(numberOf(i), which)) continue;
      const Vec3 on = nearestOn(ordered_[i].corner, p), way = on - p;
      const double s = glm::dot(way, way);
      if (s > square || (s == square && (best.barrier < 0 || numberOf(i) > best.barrier))) continue;
      square = s, best.distance = std::sqrt(s), best.barrier = numberOf(i), best.on = on;
    }
  }
  return best;
}

bool Obstacles::clear(const Vec3& a, const Vec3& b, double radius, Which which) const {
  const Slabs slabs(a, b);
  const double square = radius * radius;
  return nodes_.each([&](const Box3& box) { return slabs.meets(box, radius); },
                     [&](std::uint32_t i) {
                       return ordered_[i].beyond(a, b, radius) || !comesNearer(a, b, ordered_[i].corner, square) ||
                              !counts(numberOf(i), which);
                     });
}

Obstacles::Hit Obstacles::firstHit(const Vec3& a, const Vec3& b, Which which) const {
  Hit hit;
  const Slabs slabs(a, b);
  nodes_.each([&](const Box3& box) { return slabs.meets(box); },
              [&](std::uint32_t i) {
                const double along = counts(numberOf(i), which) ? crossing(a, b, ordered_[i].corner) : -1;
                if (along >= 0 && (along < hit.along || (along == hit.along && numberOf(i) < hit.barrier))) hit = {along, numberOf(i)};
                return true;
              });
  return hit;
}

bool Obstacles::inSolid(const Vec3& p) const {
  if (nodes_.empty() || !nodes_[0].box.contains(p)) return false;
  // Three rays that lean a little, each its own way: one may run along an edge, where parity says nothing, but hardly two.
  const double up = nodes_[0].box.max.y - p.y + 1;
  int inside = 0;
  for (const Vec3& lean : {Vec3(0.0131, 1, 0.0077), Vec3(-0.0211, 1, 0.0119), Vec3(0.0059, 1, -0.0293)}) {
    const Vec3 end = p + lean * up;
    const Slabs slabs(p, end);
    std::map<std::int32_t, int> crossed;
    nodes_.each([&](const Box3& box) { return slabs.meets(box); },
                [&](std::uint32_t i) {
                  const std::int32_t solid = barriers_[numberOf(i)].solid;
                  if (solid >= 0 && crossing(p, end, ordered_[i].corner) >= 0) ++crossed[solid];
                  return true;
                });
    inside += std::any_of(crossed.begin(), crossed.end(), [](const auto& c) { return c.second % 2 == 1; });
  }
  return inside >= 2;
}

}  // namespace dune::flight
