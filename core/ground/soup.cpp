// Typical size: a hundred to ten thousand triangles. Welding sorts instead of hashing so that nothing depends on a hash table.

#include "core/ground/soup.h"

#include <algorithm>
#include <limits>
#include <numeric>

#include "core/ground/tuning.h"

namespace dune::ground {

namespace {

constexpr std::size_t kMany = 200;  // triangles of a cell of the plan: more are looked for by height too

}  // namespace

Soup::Soup(const level::World& world) {
  const auto& objects = world.level->objects;
  for (std::uint32_t o = 0; o < objects.size(); ++o) {
    if (world.roles[o] == level::Role::ignored) continue;
    const Solids solids = findSolids(objects[o], Job());
    for (std::uint32_t t = 0; t < objects[o].triangles.size(); ++t) add(world, o, t, solids);
  }
}

Soup::Soup(const level::World& world, const Survey& survey, std::span<const std::uint32_t> numbers) {
  triangles_.reserve(numbers.size());
  solid_.reserve(numbers.size());
  for (const std::uint32_t number : numbers) {
    const auto [object, triangle] = survey.sourceOf(number);
    add(world, object, triangle, survey.solidsOf(object));
  }
}

void Soup::add(const level::World& world, std::uint32_t object, std::uint32_t triangle, const Solids& solids) {
  if (solids.repeated[triangle]) return;
  auto t = makeTriangle(world.level->objects[object], triangle);
  if (!t) return;
  t->object = object;
  t->role = world.roles[object];
  t->kind = level::groundKind(world, object, triangle);
  t->underside = solids.underside[triangle] != 0;
  const std::int64_t piece = solids.piece[triangle];
  take(*t, piece < 0 ? -1 : (static_cast<std::int64_t>(object) << 32 | piece));
}

void Soup::take(const Triangle& t, std::int64_t solid) {
  triangles_.push_back(t), shapes_.emplace_back(t), solid_.push_back(solid);
  hasSolids_ |= solid >= 0, cuts_ |= t.role == level::Role::cuts, hasKinds_ |= t.kind != level::kNoKind;
  index_.reset();
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
    for (const auto& corners : b.halves())
      if (auto t = makeTriangle(corners)) {
        t->object = b.object;
        t->role = level::Role::ground;
        if (hasKinds_)
          if (const auto from = std::ranges::find(triangles_, b.object, &Triangle::object); from != triangles_.end()) t->kind = from->kind;
        t->slope = 0;  // a bridge over a hairline gap is a step, not a slope
        take(*t, -1);
      }
}

std::span<const std::uint32_t> Soup::over(const Vec2& q, const Interval& heights, std::vector<std::uint32_t>& scratch) const {
  const auto cell = above().at(q);
  if (cell.size() <= kMany) return cell;
  Box2 box;
  box.add(q);
  index().columns.collect(box3(box, heights), scratch);
  for (std::uint32_t& i : scratch) i = index().flat[i];
  return scratch;
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

void Soup::makeIndex() const {
  auto made = std::make_shared<Index>();
  std::vector<Box3> boxes, columns;
  std::vector<std::array<Vec2, 3>> plan;
  boxes.reserve(triangles_.size()), plan.reserve(triangles_.size());
  for (std::uint32_t i = 0; i < triangles_.size(); ++i) {
    const Triangle& t = triangles_[i];
    boxes.push_back(box3(t.box(), t.heights()));
    plan.push_back(t.q);
    if (!t.upright) made->flat.push_back(i);
  }
  made->matters = findHeights();
  made->tree = BoxTree(std::move(boxes));
  made->above = PlanTree(plan, made->flat);
  // Curtains and lamps have hundreds of triangles, nearly upright, on a square of a hand, and towers have hundreds of floors: no cell of
  // the plan parts them, heights do.
  if (made->above.mostAtOnce() > kMany) {
    for (const std::uint32_t i : made->flat) columns.push_back(box3(triangles_[i].box(), made->matters[i]));
    made->columns = BoxTree(std::move(columns));
  }
  index_ = std::move(made);
}

/// Below all of a closed piece one is not in it, however many of its triangles lie above.
std::vector<Interval> Soup::findHeights() const {
  std::vector<Interval> matters;
  matters.reserve(triangles_.size());
  for (const Triangle& t : triangles_) matters.push_back(t.heights());
  if (!hasSolids_) return matters;
  std::vector<std::uint32_t> order;
  for (std::uint32_t i = 0; i < triangles_.size(); ++i)
    if (solid_[i] >= 0) order.push_back(i);
  std::ranges::sort(order, [&](std::uint32_t a, std::uint32_t b) { return std::pair(solid_[a], a) < std::pair(solid_[b], b); });
  for (std::size_t i = 0, end; i < order.size(); i = end) {
    double low = matters[order[i]].from;
    for (end = i; end < order.size() && solid_[order[end]] == solid_[order[i]]; ++end) low = std::min(low, matters[order[end]].from);
    for (std::size_t k = i; k < end; ++k) matters[order[k]].from = low;
  }
  return matters;
}

}  // namespace dune::ground
