#include "core/flight/obstacles.h"

#include <algorithm>
#include <cmath>
#include <map>

// Typically 10 000 to a million triangles and tens of millions of questions about places between them: a tree of boxes, parted in the
// middle of the longest side, four triangles a leaf.

namespace dune::flight {

namespace {

constexpr std::uint32_t kLeaf = 4;

Box3 boxOf(const Corners& c) {
  Box3 box;
  for (const Vec3& p : c) box.add(p);
  return box;
}

}  // namespace

Obstacles::Flat::Flat(const Corners& c) : corner(c), normal(glm::cross(c[1] - c[0], c[2] - c[0])), offset(0) {
  const double length = glm::length(normal);
  normal = length > 0 ? normal / length : Vec3(0);
  // Rounded towards "near", for all three corners.
  offset = (glm::dot(normal, c[0]) + glm::dot(normal, c[1]) + glm::dot(normal, c[2])) / 3;
}

Obstacles::Obstacles(std::vector<Barrier> barriers) : barriers_(std::move(barriers)), order_(barriers_.size()) {
  std::vector<Box3> boxes;
  boxes.reserve(barriers_.size());
  for (std::uint32_t i = 0; i < order_.size(); ++i) {
    order_[i] = i;
    boxes.push_back(boxOf(barriers_[i].corner));
    bounds_.add(boxes.back().min), bounds_.add(boxes.back().max);
  }
  nodes_.reserve(barriers_.size());
  if (!order_.empty()) split(0, static_cast<std::uint32_t>(order_.size()), boxes);
  ordered_.reserve(order_.size());
  for (const std::uint32_t i : order_) ordered_.emplace_back(barriers_[i].corner);
}

void Obstacles::split(std::uint32_t from, std::uint32_t to, std::vector<Box3>& boxes) {
  const std::size_t self = nodes_.size();
  nodes_.emplace_back();
  Box3 box, middles;
  for (std::uint32_t i = from; i < to; ++i)
    box.add(boxes[order_[i]].min), box.add(boxes[order_[i]].max), middles.add(boxes[order_[i]].centre());
  nodes_[self].box = box;
  if (to - from <= kLeaf) {
    nodes_[self].from = from, nodes_[self].count = to - from;
    return;
  }
  const Vec3 size = middles.size();
  const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
  const std::uint32_t middle = from + (to - from) / 2;
  std::nth_element(order_.begin() + from, order_.begin() + middle, order_.begin() + to, [&](std::uint32_t a, std::uint32_t b) {
    const double ca = boxes[a].min[axis] + boxes[a].max[axis], cb = boxes[b].min[axis] + boxes[b].max[axis];
    return ca != cb ? ca < cb : a < b;
  });
  split(from, middle, boxes);
  nodes_[self].second = static_cast<std::uint32_t>(nodes_.size());
  split(middle, to, boxes);
}

Obstacles::Near Obstacles::nearest(const Vec3& p, double limit) const {
  Near best{limit, -1, {}};
  if (nodes_.empty()) return best;
  double square = limit * limit;
  struct Entry {
    std::uint32_t node;
    double square;
  } stack[64];
  std::uint32_t depth = 0;
  stack[depth++] = {0, squareTo(nodes_[0].box, p)};
  while (depth) {
    const Entry entry = stack[--depth];
    if (entry.square > square) continue;
    const Node& node = nodes_[entry.node];
    if (node.second) {
      const Entry one{entry.node + 1, squareTo(nodes_[entry.node + 1].box, p)}, two{node.second, squareTo(nodes_[node.second].box, p)};
      const bool first = one.square <= two.square;
      if ((first ? two : one).square <= square) stack[depth++] = first ? two : one;
      if ((first ? one : two).square <= square) stack[depth++] = first ? one : two;
      continue;
    }
    for (std::uint32_t i = node.from; i != node.from + node.count; ++i) {
      if (ordered_[i].beyond(p, p, best.distance)) continue;
      const Vec3 on = nearestOn(ordered_[i].corner, p), way = on - p;
      const double s = glm::dot(way, way);
      if (s > square || (s == square && (best.barrier < 0 || order_[i] > best.barrier))) continue;
      square = s, best.distance = std::sqrt(s), best.barrier = order_[i], best.on = on;
    }
  }
  return best;
}

bool Obstacles::clear(const Vec3& a, const Vec3& b, double radius) const {
  const Slabs slabs(a, b);
  const double square = radius * radius;
  return walk(
      [&](const Box3& box) { return slabs.meets(box, radius); },
      [&](std::uint32_t i) { return ordered_[i].beyond(a, b, radius) || nearestBetween(a, b, ordered_[i].corner).square >= square; });
}

Obstacles::Hit Obstacles::firstHit(const Vec3& a, const Vec3& b) const {
  Hit hit;
  const Slabs slabs(a, b);
  walk([&](const Box3& box) { return slabs.meets(box); },
       [&](std::uint32_t i) {
         const double along = crossing(a, b, ordered_[i].corner);
         if (along >= 0 && (along < hit.along || (along == hit.along && order_[i] < hit.barrier))) hit = {along, order_[i]};
         return true;
       });
  return hit;
}

bool Obstacles::inSolid(const Vec3& p) const {
  if (!bounds_.contains(p)) return false;
  // Three rays that lean a little, each its own way: one may run along an edge, where parity says nothing, but hardly two.
  const double up = bounds_.max.y - p.y + 1;
  int inside = 0;
  for (const Vec3& lean : {Vec3(0.0131, 1, 0.0077), Vec3(-0.0211, 1, 0.0119), Vec3(0.0059, 1, -0.0293)}) {
    const Vec3 end = p + lean * up;
    const Slabs slabs(p, end);
    std::map<std::int32_t, int> crossed;
    walk([&](const Box3& box) { return slabs.meets(box); },
         [&](std::uint32_t i) {
           const std::int32_t solid = barriers_[order_[i]].solid;
           if (solid >= 0 && crossing(p, end, ordered_[i].corner) >= 0) ++crossed[solid];
           return true;
         });
    inside += std::any_of(crossed.begin(), crossed.end(), [](const auto& c) { return c.second % 2 == 1; });
  }
  return inside >= 2;
}

}  // namespace dune::flight
