#include "core/route/triangles.h"

#include <algorithm>
#include <limits>

namespace dune::route {

namespace {

// m²: twice the area below which a triangle is empty. On the lattice a triangle has none or a million times more; ground that was cut out
// for a while has corners off the lattice.
constexpr double kEmpty = 1e-9;

}  // namespace

void Triangles::link(std::uint32_t a, std::uint32_t b) {
  halves_[a].twin = b;
  if (b != kNoHalf) halves_[b].twin = a;
}

std::uint32_t Triangles::newTriangle() {
  if (!spare_.empty()) {
    const std::uint32_t h = spare_.back();
    spare_.pop_back();
    return h;
  }
  halves_.resize(halves_.size() + 3);
  return static_cast<std::uint32_t>(halves_.size() - 3);
}

/// Of a triangle: the greater the better shaped, one of three equal sides most.
double Triangles::worth(std::uint32_t a, std::uint32_t b, std::uint32_t c) const {
  const Vec2 ab = at_[b] - at_[a], bc = at_[c] - at_[b], ca = at_[a] - at_[c];
  return cross(ab, bc) / (glm::dot(ab, ab) + glm::dot(bc, bc) + glm::dot(ca, ca));
}

bool Triangles::isEar(std::span<const std::uint32_t> ring, std::size_t i) const {
  const std::size_t n = ring.size();
  const Vec2 &a = at_[ring[(i + n - 1) % n]], &b = at_[ring[i]], &c = at_[ring[(i + 1) % n]];
  if (cross(b - a, c - b) <= kEmpty) return false;
  for (std::size_t k = 2; k + 1 < n; ++k) {
    const Vec2& p = at_[ring[(i + k) % n]];
    if (cross(b - a, p - a) >= 0 && cross(c - b, p - b) >= 0 && cross(a - c, p - c) >= 0) return false;
  }
  return true;
}

/// The best shaped ear first. Which ears there are is found before anything is changed.
bool Triangles::cut(const Ring& ring, std::vector<std::uint32_t>& sides) {
  left_.clear(), ears_.clear();
  for (const Half& edge : ring) left_.push_back(edge.corner);
  while (left_.size() > 3) {
    std::size_t best = left_.size();
    double most = 0;
    for (std::size_t i = 0; i < left_.size(); ++i) {
      if (!isEar(left_, i)) continue;
      const double w = worth(left_[(i + left_.size() - 1) % left_.size()], left_[i], left_[(i + 1) % left_.size()]);
      if (w > most) most = w, best = i;
    }
    if (best == left_.size()) return false;
    ears_.push_back(static_cast<std::uint32_t>(best));
    left_.erase(left_.begin() + static_cast<std::ptrdiff_t>(best));
  }
  if (left_.size() < 3 || cross(at_[left_[1]] - at_[left_[0]], at_[left_[2]] - at_[left_[1]]) <= kEmpty) return false;

  // The edges of what is left: the ring's own, by number, and new ones, by their halves.
  struct Edge {
    std::size_t side;
    std::uint32_t corner, half;
  };
  thread_local std::vector<Edge> edges;
  edges.clear(), sides.assign(ring.size(), kNoHalf);
  for (std::size_t i = 0; i < ring.size(); ++i) edges.push_back({i, ring[i].corner, kNoHalf});
  const std::uint16_t area = ring[0].area;
  const auto make = [&](const Edge& edge, std::uint32_t h) {
    const bool isNew = edge.half != kNoHalf;
    halves_[h] = {edge.corner, kNoHalf, isNew ? kNoHalf : ring[edge.side].side, area};
    link(h, isNew ? edge.half : ring[edge.side].twin);
    from_[edge.corner] = h;
    if (!isNew) sides[edge.side] = h;
  };
  for (const std::uint32_t i : ears_) {
    const std::size_t a = (i + edges.size() - 1) % edges.size();
    const std::uint32_t h = newTriangle();
    make(edges[a], h), make(edges[i], h + 1);
    halves_[h + 2] = {edges[(i + 1) % edges.size()].corner, kNoHalf, kNoHalf, area};
    edges[a].half = h + 2;
    edges.erase(edges.begin() + i);
  }
  const std::uint32_t h = newTriangle();
  for (std::uint32_t k = 0; k < 3; ++k) make(edges[k], h + k);
  return true;
}

/// The polygon around a corner, and the triangles in it; false where it has to stay.
bool Triangles::gather(std::uint32_t corner, std::size_t most) {
  around_.clear(), old_.clear();
  const std::uint32_t first = from_[corner];
  if (first == kNoHalf) return false;
  int turns = 0;
  for (std::uint32_t h = first;;) {
    if (halves_[h].fixed() || old_.size() == most) return false;
    const std::uint32_t side = next(h), last = next(side);
    around_.push_back(halves_[side]);
    old_.push_back(h - h % 3);
    turns += at_[halves_[side].corner].y < at_[corner].y && at_[halves_[last].corner].y >= at_[corner].y;
    if (halves_[last].fixed()) return false;
    h = halves_[last].twin;
    if (h == first) break;
  }
  return turns == 1;
}

bool Triangles::remove(std::uint32_t corner, std::size_t most) {
  if (!gather(corner, most)) return false;
  for (std::size_t i = 0; i < around_.size(); ++i)  // a triangle over an edge may be one of those around: then the ground is bent back
    for (std::size_t k = i + 1; k < around_.size(); ++k)
      if (around_[i].corner == around_[k].corner) return false;
  if (!cut(around_, sides_)) return false;
  for (const std::uint32_t h : old_) {
    for (std::uint32_t k = 0; k < 3; ++k) halves_[h + k] = {};
    spare_.push_back(h);
  }
  from_[corner] = kNoHalf;
  return true;
}

/// Whether the two triangles at an edge are better shaped with the other diagonal of their four corners.
bool Triangles::isBetter(std::uint32_t h) const {
  const std::uint32_t t = halves_[h].twin;
  if (halves_[h].fixed()) return false;
  const std::uint32_t a = halves_[h].corner, b = halves_[t].corner, c = halves_[before(h)].corner, d = halves_[before(t)].corner;
  if (c == d || cross(at_[d] - at_[a], at_[c] - at_[d]) <= kEmpty || cross(at_[b] - at_[d], at_[c] - at_[b]) <= kEmpty) return false;
  // The angles over an edge that should stay come to less than half a turn (Delaunay); the sine of their sum tells.
  const Vec2 ca = at_[a] - at_[c], cb = at_[b] - at_[c], da = at_[a] - at_[d], db = at_[b] - at_[d];
  const double sinC = cross(ca, cb), cosC = glm::dot(ca, cb), sinD = cross(db, da), cosD = glm::dot(db, da);
  constexpr double kClear = 1e-9;  // of the whole: rounding must not flip an edge for ever
  const double sine = sinC * cosD + cosC * sinD;
  return sine < -kClear * (std::abs(sinC * cosD) + std::abs(cosC * sinD));
}

void Triangles::flipEdge(std::uint32_t h) {
  const std::uint32_t t = halves_[h].twin, hn = next(h), hb = before(h), tn = next(t), tb = before(t);
  const Half bc = halves_[hn], ca = halves_[hb], ad = halves_[tn], db = halves_[tb];
  const std::uint32_t a = ad.corner, b = bc.corner, c = ca.corner, d = db.corner;
  // h: d → c with c → a and a → d; t: c → d with d → b and b → c.
  const auto set = [&](std::uint32_t at, const Half& half) {
    halves_[at] = {half.corner, kNoHalf, half.side, half.area};
    link(at, half.twin);
    from_[half.corner] = at;
  };
  halves_[h] = {d, t, kNoHalf, ca.area}, halves_[t] = {c, h, kNoHalf, ca.area};
  set(hn, ca), set(hb, ad), set(tn, db), set(tb, bc);
  from_[a] = hb, from_[b] = tb, from_[c] = t, from_[d] = h;
}

void Triangles::flip() {
  std::vector<std::uint32_t> open;
  std::vector<char> listed(halves_.size(), 0);
  const auto list = [&](std::uint32_t h) {
    if (halves_[h].fixed()) return;
    const std::uint32_t key = std::min(h, halves_[h].twin);
    if (!listed[key]) listed[key] = 1, open.push_back(key);
  };
  for (std::uint32_t h = 0; h < halves_.size(); ++h)
    if (halves_[h].corner != kNoHalf) list(h);
  std::ranges::reverse(open);
  std::size_t left = 16 * halves_.size();  // it ends by itself; this is for rounding alone
  while (!open.empty() && left-- > 0) {
    const std::uint32_t h = open.back();
    open.pop_back(), listed[h] = 0;
    if (!isBetter(h)) continue;
    const std::uint32_t t = halves_[h].twin;
    flipEdge(h);
    for (const std::uint32_t side : {next(h), before(h), next(t), before(t)}) list(side);
  }
}

}  // namespace dune::route
