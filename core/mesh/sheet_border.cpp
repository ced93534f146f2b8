// The border of a sheet as the cells give it has a corner wherever two pieces met, rounded to the lattice. Simplifying takes
// out corners that say nothing: a corner goes when the line without it stays within kSimplifyError of all corners taken out so
// far, and no nearer to any limit than the radius, which is measured, not assumed.

#include <algorithm>
#include <map>

#include "core/mesh/sheet.h"
#include "core/mesh/tuning.h"

namespace dune::mesh {

namespace {

struct BorderEdge {
  LatticePoint a, b;
  double y;
  bool cut;  // the ground goes on, on another sheet
};

std::vector<BorderEdge> borderEdges(const Cells& cells, std::int32_t sheet) {
  std::vector<BorderEdge> edges;
  for (const Storey& s : cells.storeys()) {
    if (s.sheet != sheet) continue;
    for (int e = 0; e < 3; ++e) {
      const std::int32_t k = s.across[static_cast<std::size_t>(e)];
      if (k >= 0 && cells.storeys()[static_cast<std::size_t>(k)].sheet == sheet) continue;
      edges.push_back({cells.plan().corner(s.cell, e), cells.plan().corner(s.cell, e + 1), s.ground.y, k >= 0});
    }
  }
  return edges;
}

struct Corner {
  LatticePoint p;
  double y;
  bool pinned;
};

/// Edges joined into closed chains. Where chains touch in a corner the first edge in order is taken.
std::vector<std::vector<Corner>> chain(const std::vector<BorderEdge>& edges) {
  std::multimap<LatticePoint, std::size_t> from;
  std::map<LatticePoint, int> leaving;
  for (std::size_t i = 0; i < edges.size(); ++i) from.emplace(edges[i].a, i), ++leaving[edges[i].a];
  std::vector<char> used(edges.size(), 0);
  std::vector<std::vector<Corner>> chains;
  for (std::size_t first = 0; first < edges.size(); ++first) {
    if (used[first]) continue;
    std::vector<Corner> loop;
    bool cutBefore = false;
    for (std::size_t i = first;;) {
      used[i] = 1;
      loop.push_back({edges[i].a, edges[i].y, leaving[edges[i].a] > 1 || edges[i].cut || cutBefore});
      cutBefore = edges[i].cut;
      std::size_t next = edges.size();
      for (auto [it, end] = from.equal_range(edges[i].b); it != end; ++it)
        if (!used[it->second]) {
          next = it->second;
          break;
        }
      if (next == edges.size()) break;
      i = next;
    }
    if (cutBefore) loop.front().pinned = true;
    chains.push_back(std::move(loop));
  }
  return chains;
}

class Simplifier {
 public:
  Simplifier(const SheetInput& input) : clearance_(input.clearance), agent_(input.standing.agent()) {}

  void run(std::vector<Corner>& loop) {
    std::vector<std::size_t> kept(loop.size());
    for (std::size_t i = 0; i < kept.size(); ++i) kept[i] = i;
    // Straight corners first, then by growing error, so that a long line is not bent by an early, poorer choice.
    for (const double error : {0.0011, 0.25 * tuning::kSimplifyError, tuning::kSimplifyError})
      for (bool changed = true; changed && kept.size() > 3;) {
        changed = false;
        for (std::size_t i = 0; i < kept.size() && kept.size() > 3;) {
          const std::size_t n = kept.size(), before = kept[(i + n - 1) % n], after = kept[(i + 1) % n];
          if (!loop[kept[i]].pinned && mayGo(loop, before, after, error))
            kept.erase(kept.begin() + static_cast<std::ptrdiff_t>(i)), changed = true;
          else
            ++i;
        }
      }
    std::vector<Corner> simple;
    for (const std::size_t i : kept) simple.push_back(loop[i]);
    loop = std::move(simple);
  }

 private:
  bool mayGo(const std::vector<Corner>& loop, std::size_t before, std::size_t after, double error) const {
    const Vec2 a = toPlan(loop[before].p), b = toPlan(loop[after].p);
    double low = loop[before].y, high = low;
    for (std::size_t i = (before + 1) % loop.size(); i != after; i = (i + 1) % loop.size()) {
      if (distanceToSegment(a, b, toPlan(loop[i].p)) > error) return false;
      low = std::min(low, loop[i].y), high = std::max(high, loop[i].y);
    }
    return keepsDistance(a, b, low, high);
  }

  bool keepsDistance(const Vec2& a, const Vec2& b, double low, double high) const {
    const double least = agent_.radius - tuning::kNearer;
    Box2 box;
    box.add(a), box.add(b);
    for (const std::uint32_t i : clearance_.grid().collect(box.grown(agent_.radius))) {
      const ground::Limit& limit = clearance_.limits()[i];
      if (!limit.countsAt(a, low, agent_.height) && !limit.countsAt(b, high, agent_.height)) continue;
      if (nearerThan(limit, a, b, least)) return false;
    }
    return true;
  }

  /// Whether segment ab comes nearer to a limit than `least`, on the side that the limit counts for.
  static bool nearerThan(const ground::Limit& limit, const Vec2& a, const Vec2& b, double least) {
    if (!limit.facing(a) && !limit.facing(b)) return false;
    if (std::min(distanceToSegment(a, b, limit.a), distanceToSegment(a, b, limit.b)) < least) return true;
    for (const Vec2& q : {a, b})
      if (limit.facing(q) && distanceToSegment(limit.a, limit.b, q) < least) return true;
    const auto t = crossingParameter(a, b, limit.a, limit.b);
    return t && *t >= 0 && *t <= 1;
  }

  const ground::Clearance& clearance_;
  const level::Agent& agent_;
};

}  // namespace

std::vector<std::vector<LatticePoint>> sheetBorder(const SheetInput& input, std::int32_t sheet, std::vector<LatticePoint>& pinned) {
  Simplifier simplifier(input);
  std::vector<std::vector<LatticePoint>> border;
  for (std::vector<Corner>& loop : chain(borderEdges(input.cells, sheet))) {
    simplifier.run(loop);
    if (loop.size() < 3) continue;
    border.emplace_back();
    for (const Corner& c : loop) {
      border.back().push_back(c.p);
      if (c.pinned) pinned.push_back(c.p);
    }
  }
  std::sort(pinned.begin(), pinned.end());
  return border;
}

}  // namespace dune::mesh
