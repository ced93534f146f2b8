#include "core/generate/triangulation.h"

#include <algorithm>
#include <cassert>

namespace dune::generate {

namespace {

constexpr std::size_t kChecksEvery = 1024;
constexpr std::uint8_t kTaken = 0x80;  // marks an edge for a moment; not a mask of callers
constexpr int kMostSplits = 100000;    // of one constraint; rounding makes far fewer, and a bound keeps a mistake from hanging

std::size_t after(int e, int steps) { return static_cast<std::size_t>((e + steps) % 3); }

}  // namespace

Triangulation::Triangulation(const LatticePoint& min, const LatticePoint& max)
    : points_{min, {max.u, min.v}, max, {min.u, max.v}},
      triangles_{{{0, 1, 2}, {kOutside, kOutside, 1}, {0, 0, 0}}, {{0, 2, 3}, {0, kOutside, kOutside}, {0, 0, 0}}},
      touching_{0, 0, 0, 1} {
  assert(min.u < max.u && min.v < max.v);
}

Triangulation Triangulation::around(std::span<const LatticePoint> points) {
  constexpr std::int64_t kMargin = 1024;
  assert(!points.empty());
  LatticePoint low = points[0], high = low;
  for (const LatticePoint& p : points)
    low = {std::min(low.u, p.u), std::min(low.v, p.v)}, high = {std::max(high.u, p.u), std::max(high.v, p.v)};
  return {{low.u - kMargin, low.v - kMargin}, {high.u + kMargin, high.v + kMargin}};
}

int Triangulation::indexOf(std::int32_t t, std::uint32_t vertex) const {
  const auto& v = at(t).v;
  return v[0] == vertex ? 0 : v[1] == vertex ? 1 : 2;
}

int Triangulation::edgeTo(std::int32_t t, std::int32_t neighbour) const {
  const auto& n = at(t).n;
  return n[0] == neighbour ? 0 : n[1] == neighbour ? 1 : 2;
}

void Triangulation::replaceNeighbour(std::int32_t t, std::int32_t from, std::int32_t to) {
  if (t != kOutside) at(t).n[static_cast<std::size_t>(edgeTo(t, from))] = to;
}

std::int32_t Triangulation::locate(const LatticePoint& p, std::int32_t hint) const {
  std::int32_t t = hint, before = kOutside;
  // A visibility walk; going straight back is never right. Near fixed edges it could circle, so it varies the edge asked first.
  for (std::size_t steps = 0;; ++steps) {
    std::int32_t to = kOutside;
    for (int k = 0; k < 3 && to == kOutside; ++k) {
      const int e = static_cast<int>((static_cast<std::size_t>(k) + steps) % 3);
      if (at(t).n[after(e, 0)] == before && before != kOutside) continue;
      if (orientation(corner(t, e), corner(t, e + 1), p) < 0) to = at(t).n[after(e, 0)];
    }
    if (to == kOutside) return t;
    before = t;
    t = to;
  }
}

std::uint32_t Triangulation::insert(const LatticePoint& p) {
  const std::int32_t t = last_ = locate(p, last_);
  for (int e = 0; e < 3; ++e)
    if (corner(t, e) == p) return at(t).v[after(e, 0)];
  for (int e = 0; e < 3; ++e)
    if (orientation(corner(t, e), corner(t, e + 1), p) == 0) return splitEdge(t, e, p);
  return splitTriangle(t, p);
}

bool Triangulation::insertSorted(std::vector<LatticePoint> points, Job& job) {
  // Rows of cells, every second one backwards: neighbours in the order are neighbours in the plan.
  const double cells = std::max(1.0, std::sqrt(static_cast<double>(points.size()) / 4));
  const LatticePoint min = points_[0], max = points_[2];
  auto cellOf = [&](std::int64_t x, std::int64_t low, std::int64_t high) {
    return static_cast<std::int64_t>(cells * static_cast<double>(x - low) / static_cast<double>(high - low));
  };
  auto key = [&](const LatticePoint& p) {
    const std::int64_t row = cellOf(p.v, min.v, max.v), column = cellOf(p.u, min.u, max.u);
    return std::array<std::int64_t, 4>{row, row % 2 == 0 ? column : -column, p.u, p.v};
  };
  std::sort(points.begin(), points.end(), [&](const LatticePoint& a, const LatticePoint& b) { return key(a) < key(b); });
  points.erase(std::unique(points.begin(), points.end()), points.end());
  for (std::size_t i = 0; i < points.size(); ++i) {
    if (i % kChecksEvery == 0 && job.cancelled()) return false;
    insert(points[i]);
  }
  return true;
}

std::uint32_t Triangulation::splitTriangle(std::int32_t t, const LatticePoint& p) {
  const auto vertex = static_cast<std::uint32_t>(points_.size());
  points_.push_back(p);
  const Triangle old = at(t);
  const auto t1 = static_cast<std::int32_t>(triangles_.size()), t2 = t1 + 1;
  at(t) = {{old.v[0], old.v[1], vertex}, {old.n[0], t1, t2}, {old.fixed[0], 0, 0}};
  triangles_.push_back({{old.v[1], old.v[2], vertex}, {old.n[1], t2, t}, {old.fixed[1], 0, 0}});
  triangles_.push_back({{old.v[2], old.v[0], vertex}, {old.n[2], t, t1}, {old.fixed[2], 0, 0}});
  replaceNeighbour(old.n[1], t, t1);
  replaceNeighbour(old.n[2], t, t2);
  touching_.push_back(t);
  touching_[old.v[0]] = t, touching_[old.v[1]] = t1, touching_[old.v[2]] = t2;
  legalise({{t, 0}, {t1, 0}, {t2, 0}});
  return vertex;
}

std::uint32_t Triangulation::splitEdge(std::int32_t t, int e, const LatticePoint& p) {
  const auto vertex = static_cast<std::uint32_t>(points_.size());
  points_.push_back(p);
  const std::int32_t u = at(t).n[after(e, 0)];
  // t = (a, b, c) with the edge ab split; u = (b, a, d) on the other side.
  const Triangle old = at(t);
  const std::size_t i = after(e, 0), i1 = after(e, 1), i2 = after(e, 2);
  const auto t1 = static_cast<std::int32_t>(triangles_.size());
  const std::int32_t u1 = u == kOutside ? kOutside : t1 + 1;
  const std::uint32_t a = old.v[i], b = old.v[i1], c = old.v[i2];
  const std::uint8_t fixed = old.fixed[i];
  at(t) = {{c, a, vertex}, {old.n[i2], u1, t1}, {old.fixed[i2], fixed, 0}};
  triangles_.push_back({{b, c, vertex}, {old.n[i1], t, u}, {old.fixed[i1], 0, fixed}});
  replaceNeighbour(old.n[i1], t, t1);
  touching_.push_back(t);
  touching_[a] = t, touching_[c] = t, touching_[b] = t1;
  std::vector<Edge> stack{{t, 0}, {t1, 0}};
  if (u != kOutside) {
    const Triangle other = at(u);
    const int j = edgeTo(u, t);
    const std::size_t j1 = after(j, 1), j2 = after(j, 2);
    const std::uint32_t d = other.v[j2];
    at(u) = {{d, b, vertex}, {other.n[j2], t1, u1}, {other.fixed[j2], fixed, 0}};
    triangles_.push_back({{a, d, vertex}, {other.n[j1], u, t}, {other.fixed[j1], 0, fixed}});
    replaceNeighbour(other.n[j1], u, u1);
    touching_[d] = u;
    stack.push_back({u, 0}), stack.push_back({u1, 0});
  }
  legalise(std::move(stack));
  return vertex;
}

void Triangulation::flip(std::int32_t t, int e) {
  const std::int32_t u = at(t).n[after(e, 0)];
  const int f = edgeTo(u, t);
  const Triangle x = at(t), y = at(u);
  const std::uint32_t a = x.v[after(e, 0)], b = x.v[after(e, 1)], c = x.v[after(e, 2)], d = y.v[after(f, 2)];
  at(t) = {{c, a, d}, {x.n[after(e, 2)], y.n[after(f, 1)], u}, {x.fixed[after(e, 2)], y.fixed[after(f, 1)], 0}};
  at(u) = {{d, b, c}, {y.n[after(f, 2)], x.n[after(e, 1)], t}, {y.fixed[after(f, 2)], x.fixed[after(e, 1)], 0}};
  replaceNeighbour(y.n[after(f, 1)], u, t);
  replaceNeighbour(x.n[after(e, 1)], t, u);
  touching_[a] = t, touching_[c] = t, touching_[d] = u, touching_[b] = u;
}

bool Triangulation::violates(std::int32_t t, int e) const {
  const std::int32_t u = at(t).n[after(e, 0)];
  if (u == kOutside || at(t).fixed[after(e, 0)] != 0) return false;
  return inCircle(corner(t, 0), corner(t, 1), corner(t, 2), corner(u, edgeTo(u, t) + 2)) > 0;
}

void Triangulation::legalise(std::vector<Edge> stack) {
  // Every edge on the stack lies opposite the new corner, which is corner 2 of its triangle.
  while (!stack.empty()) {
    const auto [t, e] = stack.back();
    stack.pop_back();
    if (!violates(t, e)) continue;
    const std::uint32_t vertex = at(t).v[after(e, 2)];
    const std::int32_t u = at(t).n[after(e, 0)];
    flip(t, e);
    for (const std::int32_t s : {t, u}) stack.push_back({s, (indexOf(s, vertex) + 1) % 3});
  }
}

template <class Visit>
void Triangulation::eachAround(std::uint32_t vertex, Visit&& visit) const {
  const std::int32_t start = touching_[vertex];
  std::int32_t t = start;
  do {
    if (visit(t, indexOf(t, vertex))) return;
    t = at(t).n[after(indexOf(t, vertex), 2)];
  } while (t != kOutside && t != start);
  if (t == start) return;
  for (t = at(start).n[after(indexOf(start, vertex), 0)]; t != kOutside; t = at(t).n[after(indexOf(t, vertex), 0)])
    if (visit(t, indexOf(t, vertex))) return;
}

Triangulation::Edge Triangulation::findEdge(std::uint32_t a, std::uint32_t b) const {
  Edge found{kOutside, 0};
  eachAround(a, [&](std::int32_t t, int k) {
    if (at(t).v[after(k, 1)] == b)
      found = {t, k};
    else if (at(t).v[after(k, 2)] == b)
      found = {t, (k + 2) % 3};
    return found.t != kOutside;
  });
  return found;
}

void Triangulation::fix(std::uint32_t a, std::uint32_t b, std::uint8_t mask) {
  const Edge edge = findEdge(a, b);
  assert(edge.t != kOutside);
  at(edge.t).fixed[after(edge.e, 0)] |= mask;
  const std::int32_t u = at(edge.t).n[after(edge.e, 0)];
  if (u != kOutside) at(u).fixed[after(edgeTo(u, edge.t), 0)] |= mask;
}

std::uint8_t Triangulation::release(std::uint32_t a, std::uint32_t b) {
  const Edge edge = findEdge(a, b);
  assert(edge.t != kOutside);
  const std::uint8_t mask = at(edge.t).fixed[after(edge.e, 0)];
  at(edge.t).fixed[after(edge.e, 0)] = 0;
  const std::int32_t u = at(edge.t).n[after(edge.e, 0)];
  if (u != kOutside) at(u).fixed[after(edgeTo(u, edge.t), 0)] = 0;
  return mask;
}

void Triangulation::constrain(const LatticePoint& a, const LatticePoint& b, std::uint8_t mask) {
  std::vector<Wanted> wanted{{insert(a), insert(b), mask}};
  for (int splits = 0; !wanted.empty() && splits < kMostSplits; ++splits) {
    const Wanted one = wanted.back();
    wanted.pop_back();
    if (one.a != one.b) constrainOne(one, wanted);
  }
}

void Triangulation::constrainOne(const Wanted& wanted, std::vector<Wanted>& more) {
  const std::uint32_t a = wanted.a, b = wanted.b;
  // By value: inserting a crossing moves the points.
  const LatticePoint pa = points_[a], pb = points_[b];
  Edge crossed{kOutside, 0};
  std::uint32_t onTheWay = a;
  eachAround(a, [&](std::int32_t t, int k) {
    const std::uint32_t p = at(t).v[after(k, 1)], q = at(t).v[after(k, 2)];
    for (const std::uint32_t x : {p, q})
      if (x == b || onSegment(pa, pb, points_[x])) onTheWay = x;
    if (onTheWay != a) return true;
    if (orientation(pa, pb, points_[p]) < 0 && orientation(pa, pb, points_[q]) > 0) crossed = {t, (k + 1) % 3};
    return crossed.t != kOutside;
  });
  if (onTheWay != a) {
    fix(a, onTheWay, wanted.mask);
    more.push_back({onTheWay, b, wanted.mask});
    return;
  }
  assert(crossed.t != kOutside);
  std::vector<std::array<std::uint32_t, 2>> edges;
  std::int32_t t = crossed.t;
  int e = crossed.e;
  std::uint32_t reached = b;
  while (true) {
    const std::uint32_t p = at(t).v[after(e, 0)], q = at(t).v[after(e, 1)];
    if (at(t).fixed[after(e, 0)] != 0) {
      const std::uint32_t x = insert(crossing(pa, pb, points_[p], points_[q]));
      if (x != p && x != q) {
        // Inserting may have split pq already, when x lies on it exactly; otherwise pq now bends through x.
        if (findEdge(p, q).t != kOutside) {
          const std::uint8_t mask = release(p, q);
          settle({{p, q}});
          more.push_back({p, x, mask}), more.push_back({x, q, mask});
        }
      }
      if (x == a || x == b)
        more.push_back(wanted);
      else
        more.push_back({x, b, wanted.mask}), more.push_back({a, x, wanted.mask});
      return;
    }
    edges.push_back({p, q});
    const std::int32_t u = at(t).n[after(e, 0)];
    const int f = edgeTo(u, t);
    const std::uint32_t r = at(u).v[after(f, 2)];
    const int side = r == b ? 0 : orientation(pa, pb, points_[r]);
    if (side == 0) {
      reached = r;
      break;
    }
    t = u;
    e = side > 0 ? (f + 1) % 3 : (f + 2) % 3;
  }
  flipAway(a, reached, std::move(edges));
  fix(a, reached, wanted.mask);
  if (reached != b) more.push_back({reached, b, wanted.mask});
}

void Triangulation::flipAway(std::uint32_t a, std::uint32_t b, std::vector<std::array<std::uint32_t, 2>> crossed) {
  std::vector<std::array<std::uint32_t, 2>> fresh;
  for (std::size_t head = 0; head < crossed.size(); ++head) {
    const auto [p, q] = crossed[head];
    const Edge edge = findEdge(p, q);
    const std::int32_t t = edge.t, u = at(t).n[after(edge.e, 0)];
    const std::uint32_t c = at(t).v[after(edge.e, 2)], d = at(u).v[after(edgeTo(u, t), 2)];
    if (!properlyCross(points_[p], points_[q], points_[c], points_[d])) {
      crossed.push_back({p, q});  // not convex yet; it will be once its neighbours are flipped
      continue;
    }
    flip(t, edge.e);
    if (c != a && c != b && d != a && d != b && properlyCross(points_[a], points_[b], points_[c], points_[d]))
      crossed.push_back({c, d});
    else
      fresh.push_back({c, d});
  }
  std::erase_if(fresh, [&](const auto& e) { return (e[0] == a && e[1] == b) || (e[0] == b && e[1] == a); });
  fix(a, b, kTaken);  // not to be flipped by what follows
  settle(std::move(fresh));
  const Edge edge = findEdge(a, b);
  at(edge.t).fixed[after(edge.e, 0)] &= static_cast<std::uint8_t>(~kTaken);
  const std::int32_t u = at(edge.t).n[after(edge.e, 0)];
  if (u != kOutside) at(u).fixed[after(edgeTo(u, edge.t), 0)] &= static_cast<std::uint8_t>(~kTaken);
}

/// Lawson's flips from any edges on, until none of them and of those around them is in another triangle's circle.
void Triangulation::settle(std::vector<std::array<std::uint32_t, 2>> edges) {
  while (!edges.empty()) {
    const auto [p, q] = edges.back();
    edges.pop_back();
    const Edge edge = findEdge(p, q);
    if (edge.t == kOutside || !violates(edge.t, edge.e)) continue;
    const std::int32_t u = at(edge.t).n[after(edge.e, 0)];
    const std::uint32_t x = at(edge.t).v[after(edge.e, 2)], y = at(u).v[after(edgeTo(u, edge.t), 2)];
    flip(edge.t, edge.e);
    edges.push_back({p, x}), edges.push_back({x, q}), edges.push_back({q, y}), edges.push_back({y, p});
  }
}

}  // namespace dune::generate
