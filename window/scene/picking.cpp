#include "window/scene/picking.h"

#include <algorithm>

#include <limits>

namespace dune::window {

namespace {

bool meetsBox(const Ray& ray, const Box3& box, double most) {
  double from = 0, to = most;
  for (int i = 0; i < 3; ++i) {
    const double inverse = 1 / ray.direction[i];
    double a = (box.min[i] - ray.origin[i]) * inverse, b = (box.max[i] - ray.origin[i]) * inverse;
    if (a > b) std::swap(a, b);
    from = std::max(from, a - 1e-9), to = std::min(to, b + 1e-9);
  }
  return from <= to;
}

/// Möller & Trumbore 1997, both sides; the parameter along the ray, or infinity.
double meets(const Ray& ray, const Vec3& a, const Vec3& b, const Vec3& c) {
  constexpr double kNone = std::numeric_limits<double>::infinity();
  const Vec3 e1 = b - a, e2 = c - a, p = glm::cross(ray.direction, e2);
  const double det = glm::dot(e1, p);
  if (std::abs(det) < 1e-14) return kNone;
  const Vec3 s = ray.origin - a;
  const double u = glm::dot(s, p) / det;
  if (u < 0 || u > 1) return kNone;
  const Vec3 q = glm::cross(s, e1);
  const double v = glm::dot(ray.direction, q) / det;
  if (v < 0 || u + v > 1) return kNone;
  const double t = glm::dot(e2, q) / det;
  return t > 0 ? t : kNone;
}

/// Which way a triangle looks, never downwards.
Vec3 normalOf(const Vec3& a, const Vec3& b, const Vec3& c) {
  const Vec3 n = glm::cross(b - a, c - a);
  const double length = glm::length(n);
  if (!(length > 0)) return {0, 1, 0};
  return n / (n.y < 0 ? -length : length);
}

Vec3 normalOf(const level::Object& object, const std::array<std::uint32_t, 3>& t) {
  return normalOf(object.vertices[t[0]], object.vertices[t[1]], object.vertices[t[2]]);
}

}  // namespace

PickTree::PickTree(std::shared_ptr<const level::Level> level, const Job& job) : level_(std::move(level)) {
  std::vector<Centred> items;
  items.reserve(level_->triangleCount());
  for (std::uint32_t o = 0; o < level_->objects.size(); ++o) {
    const level::Object& object = level_->objects[o];
    for (std::uint32_t t = 0; t < object.triangles.size(); ++t) {
      const auto& v = object.triangles[t];
      const Vec3 middle = (object.vertices[v[0]] + object.vertices[v[1]] + object.vertices[v[2]]) / 3.0;
      items.push_back({{o, t}, {static_cast<float>(middle.x), static_cast<float>(middle.y), static_cast<float>(middle.z)}});
    }
  }
  if (!items.empty()) build(items, 0, items.size(), job);
  if (job.cancelled()) nodes_.clear();
  items_.reserve(items.size());
  for (const Centred& c : items) items_.push_back(c.item);
}

PickTree::Node PickTree::boxOf(const std::vector<Centred>& items, std::size_t from, std::size_t to) const {
  Box3 box;
  for (std::size_t i = from; i < to; ++i) {
    const level::Object& object = level_->objects[items[i].item.object];
    for (const std::uint32_t v : object.triangles[items[i].item.triangle]) box.add(object.vertices[v]);
  }
  Node node{};
  for (int axis = 0; axis < 3; ++axis) {
    // Rounded outward, so that no triangle sticks out of its box.
    node.min[axis] = std::nextafter(static_cast<float>(box.min[axis]), -std::numeric_limits<float>::infinity());
    node.max[axis] = std::nextafter(static_cast<float>(box.max[axis]), std::numeric_limits<float>::infinity());
  }
  return node;
}

void PickTree::build(std::vector<Centred>& items, std::size_t from, std::size_t to, const Job& job) {
  constexpr std::size_t kLeaf = 8;
  const std::size_t here = nodes_.size();
  nodes_.push_back(boxOf(items, from, to));
  if (to - from <= kLeaf || job.cancelled()) {
    nodes_[here].from = static_cast<std::uint32_t>(from), nodes_[here].count = static_cast<std::uint32_t>(to - from);
    return;
  }
  int axis = 0;
  for (int i = 1; i < 3; ++i)
    if (nodes_[here].max[i] - nodes_[here].min[i] > nodes_[here].max[axis] - nodes_[here].min[axis]) axis = i;
  const std::size_t middle = (from + to) / 2;
  const auto at = [&](std::size_t i) { return items.begin() + static_cast<std::ptrdiff_t>(i); };
  std::nth_element(at(from), at(middle), at(to), [axis](const Centred& a, const Centred& b) { return a.middle[axis] < b.middle[axis]; });
  build(items, from, middle, job);
  nodes_[here].from = static_cast<std::uint32_t>(nodes_.size());
  build(items, middle, to, job);
}

std::optional<Picked> PickTree::pick(const Ray& ray, double cutAway) const {
  std::optional<Picked> best;
  double least = std::numeric_limits<double>::infinity();
  std::vector<std::uint32_t> open;
  if (!nodes_.empty()) open.push_back(0);
  while (!open.empty()) {
    const Node& node = nodes_[open.back()];
    const std::uint32_t number = open.back();
    open.pop_back();
    Box3 box;
    box.min = {node.min[0], node.min[1], node.min[2]}, box.max = {node.max[0], node.max[1], node.max[2]};
    if (box.min.y > cutAway || !meetsBox(ray, box, least)) continue;
    if (node.count == 0) {
      open.push_back(node.from), open.push_back(number + 1);
      continue;
    }
    for (std::uint32_t i = node.from; i < node.from + node.count; ++i) {
      const level::Object& object = level_->objects[items_[i].object];
      const auto& t = object.triangles[items_[i].triangle];
      const double d = meets(ray, object.vertices[t[0]], object.vertices[t[1]], object.vertices[t[2]]);
      // Of triangles at one distance the first in the level is meant, wherever the tree has it.
      if (d > least || (d == least && best && items_[i].object >= best->object)) continue;
      const Vec3 at = ray.origin + ray.direction * d;
      if (!std::isfinite(d) || at.y > cutAway) continue;
      least = d;
      best = Picked{at, items_[i].object, normalOf(object, t)};
    }
  }
  return best;
}

std::optional<std::vector<PickTree::Item>> PickTree::within(const Box2& plan, std::size_t most) const {
  std::vector<Item> found;
  std::vector<std::uint32_t> open;
  if (!nodes_.empty()) open.push_back(0);
  while (!open.empty()) {
    const std::uint32_t number = open.back();
    const Node& node = nodes_[number];
    open.pop_back();
    if (node.max[0] < plan.min.x || node.min[0] > plan.max.x || -node.min[2] < plan.min.y || -node.max[2] > plan.max.y) continue;
    if (node.count == 0) {
      open.push_back(node.from), open.push_back(number + 1);
      continue;
    }
    if (found.size() + node.count > most) return std::nullopt;
    found.insert(found.end(), items_.begin() + node.from, items_.begin() + node.from + node.count);
  }
  return found;
}

std::optional<Picked> pick(const level::Level& level, const Ray& ray, double cutAway) {
  std::optional<Picked> best;
  double least = std::numeric_limits<double>::infinity();
  for (std::size_t o = 0; o < level.objects.size(); ++o) {
    const level::Object& object = level.objects[o];
    if (!meetsBox(ray, object.bounds(), least)) continue;
    for (const auto& t : object.triangles) {
      const double d = meets(ray, object.vertices[t[0]], object.vertices[t[1]], object.vertices[t[2]]);
      if (d >= least) continue;
      const Vec3 at = ray.origin + ray.direction * d;
      if (at.y > cutAway) continue;
      least = d;
      best = Picked{at, o, normalOf(object, t)};
    }
  }
  return best;
}

std::optional<Vec3> meetPlane(const Ray& ray, double y) {
  if (std::abs(ray.direction.y) < 1e-9) return std::nullopt;
  const double t = (y - ray.origin.y) / ray.direction.y;
  if (t <= 0) return std::nullopt;
  return ray.origin + ray.direction * t;
}

}  // namespace dune::window
