// The border of a sheet as the cells give it has a corner wherever two pieces met, rounded to the lattice. Simplifying takes
// out corners that say nothing: a corner goes when the line without it stays within kSimplifyError of all corners taken out so
// far, and no nearer to any limit than the radius, which is measured, not assumed. Then edges around round corners go: the edges
// before and after are lengthened until they meet, farther from the limits, where nothing else of the border is near. So narrow
// places keep finely rounded corners and their true width, and open ground has few.

#include <algorithm>

#include "core/base/plan_grid.h"
#include "core/generate/sheet.h"
#include "core/generate/tuning.h"

namespace dune::generate {

namespace {

struct BorderEdge {
  LatticePoint a, b;
  double y;
  bool cut;             // the ground goes on, on another sheet or another chunk
  bool seam;            // the edge lies on a side of the chunk
  std::int32_t beyond;  // that other sheet, or -1
};

std::vector<BorderEdge> borderEdges(const Cells& cells, std::int32_t sheet) {
  std::vector<BorderEdge> edges;
  std::vector<std::int32_t> members = cells.sheet(sheet);
  std::sort(members.begin(), members.end());
  for (const std::int32_t number : members) {
    const Storey& s = cells.storeys()[static_cast<std::size_t>(number)];
    for (int e = 0; e < 3; ++e) {
      const std::int32_t k = s.across[static_cast<std::size_t>(e)];
      const std::int32_t beyond = k >= 0 ? cells.storeys()[static_cast<std::size_t>(k)].sheet : -1;
      if (beyond == sheet) continue;
      edges.push_back(
          {cells.plan().corner(s.cell, e), cells.plan().corner(s.cell, e + 1), s.ground.y, k != -1, k == Storey::kSeam, beyond});
    }
  }
  return edges;
}

struct BorderCorner {
  LatticePoint p;
  double y;
  bool pinned;
  bool alongSeam;                     // both edges at it lie on sides of the chunk
  std::int32_t beyond;                // the other sheet behind the edge that begins here, or -1
  std::uint32_t first = 0, last = 0;  // the corners of the loop as it was that it stands for
};

/// A corner in the middle of a side of the chunk says nothing: the chunk beyond has it only when it is the same there.
void dropSeamCorners(std::vector<BorderCorner>& loop) {
  std::vector<BorderCorner> kept;
  for (std::size_t i = 0, n = loop.size(); i < n; ++i)
    if (!loop[i].alongSeam || orientation(loop[(i + n - 1) % n].p, loop[i].p, loop[(i + 1) % n].p) != 0) kept.push_back(loop[i]);
  loop = std::move(kept);
}

/// Edges joined into closed chains. Where chains touch in a corner the first edge in order is taken.
std::vector<std::vector<BorderCorner>> chain(const std::vector<BorderEdge>& edges) {
  struct Leaving {
    LatticePoint from;
    std::size_t edge;
    auto operator<=>(const Leaving&) const = default;
  };
  std::vector<Leaving> leaving;
  for (std::size_t i = 0; i < edges.size(); ++i) leaving.push_back({edges[i].a, i});
  std::sort(leaving.begin(), leaving.end());
  auto from = [&](const LatticePoint& p) {
    const auto [begin, end] =
        std::equal_range(leaving.begin(), leaving.end(), Leaving{p, 0}, [](const Leaving& x, const Leaving& y) { return x.from < y.from; });
    return std::span(begin, end);
  };
  std::vector<char> used(edges.size(), 0);
  std::vector<std::vector<BorderCorner>> chains;
  for (std::size_t first = 0; first < edges.size(); ++first) {
    if (used[first]) continue;
    std::vector<BorderCorner> loop;
    const BorderEdge* before = nullptr;
    for (std::size_t i = first;;) {
      used[i] = 1;
      const BorderEdge& edge = edges[i];
      const bool touches = from(edge.a).size() > 1;
      loop.push_back(
          {edge.a, edge.y, touches || edge.cut || (before && before->cut), !touches && edge.seam && before && before->seam, edge.beyond});
      before = &edge;
      const auto onwards = from(edge.b);
      const auto next = std::find_if(onwards.begin(), onwards.end(), [&](const Leaving& l) { return !used[l.edge]; });
      if (next == onwards.end()) break;
      i = next->edge;
    }
    if (before->cut) loop.front().pinned = true;
    loop.front().alongSeam = from(loop.front().p).size() == 1 && before->seam && edges[first].seam;
    dropSeamCorners(loop);
    chains.push_back(std::move(loop));
  }
  return chains;
}

/// Corners at which the agent begins to crouch stay.
void pinEnds(std::span<const LowLine> low, std::vector<std::vector<BorderCorner>>& loops) {
  if (low.empty()) return;
  std::vector<LatticePoint> ends;
  for (const LowLine& l : low) ends.push_back(l.a), ends.push_back(l.b);
  std::sort(ends.begin(), ends.end());
  for (auto& loop : loops)
    for (BorderCorner& c : loop)
      if (std::binary_search(ends.begin(), ends.end(), c.p)) c.pinned = true;
}

class Simplifier {
 public:
  Simplifier(const SheetInput& input, std::vector<std::vector<BorderCorner>>& loops)
      : clearance_(input.clearance), agent_(input.standing.agent()) {
    std::vector<Box2> boxes;
    for (std::size_t l = 0; l < loops.size(); ++l)
      for (std::size_t i = 0, n = loops[l].size(); i < n; ++i) {
        loops[l][i].first = loops[l][i].last = static_cast<std::uint32_t>(i);
        edges_.push_back({l, i, n});
        boxes.emplace_back().add(toPlan(loops[l][i].p));
        boxes.back().add(toPlan(loops[l][(i + 1) % n].p));
      }
    edgeGrid_ = PlanGrid(boxes, 0.5);
  }

  void run(std::vector<BorderCorner>& loop, std::size_t number) const {
    // Straight corners first, then by growing error, so that a long line is not bent by an early, poorer choice.
    for (const double error : {0.0011, 0.25 * tuning::kSimplifyError, tuning::kSimplifyError}) dropCorners(loop, error);
    for (std::size_t i = 0; i < loop.size() && loop.size() > 3;)
      if (!dropEdge(loop, number, i)) ++i;
  }

 private:
  void dropCorners(std::vector<BorderCorner>& loop, double error) const {
    std::vector<std::size_t> kept(loop.size());
    for (std::size_t i = 0; i < kept.size(); ++i) kept[i] = i;
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
    std::vector<BorderCorner> simple;
    for (const std::size_t i : kept) simple.push_back(loop[i]);
    loop = std::move(simple);
  }

  bool mayGo(const std::vector<BorderCorner>& loop, std::size_t before, std::size_t after, double error) const {
    const Vec2 a = toPlan(loop[before].p), b = toPlan(loop[after].p);
    double low = loop[before].y, high = low;
    for (std::size_t i = (before + 1) % loop.size(); i != after; i = (i + 1) % loop.size()) {
      if (distanceToSegment(a, b, toPlan(loop[i].p)) > error) return false;
      low = std::min(low, loop[i].y), high = std::max(high, loop[i].y);
    }
    return keepsDistance(a, b, low, high);
  }

  /// Takes out the edge behind corner i if the edges before and after it can meet instead.
  bool dropEdge(std::vector<BorderCorner>& loop, std::size_t number, std::size_t i) const {
    const std::size_t n = loop.size(), next = (i + 1) % n;
    const BorderCorner &a = loop[(i + n - 1) % n], &b = loop[i], &c = loop[next], &d = loop[(next + 1) % n];
    if (b.pinned || c.pinned || orientation(a.p, b.p, c.p) >= 0 || orientation(b.p, c.p, d.p) >= 0) return false;
    const auto meeting = meetingPlace(a, b, c, d);
    if (!meeting || othersNear({b.p, *meeting, c.p}, number, a.first, d.last)) return false;
    const Vec2 x = toPlan(*meeting);
    const auto nearest = clearance_.nearest(x, b.y, agent_.radius + tuning::kRoundError);
    const double low = std::min({a.y, b.y, c.y, d.y}), high = std::max({a.y, b.y, c.y, d.y});
    if (!nearest || !keepsDistance(toPlan(a.p), x, low, high) || !keepsDistance(x, toPlan(d.p), low, high)) return false;
    loop[i] = {*meeting, (b.y + c.y) / 2, false, false, -1, b.first, c.last};
    loop.erase(loop.begin() + static_cast<std::ptrdiff_t>(next));
    return true;
  }

  /// Where a → b and d → c meet beyond b and c.
  static std::optional<LatticePoint> meetingPlace(const BorderCorner& a, const BorderCorner& b, const BorderCorner& c,
                                                  const BorderCorner& d) {
    const Vec2 pb = toPlan(b.p), pc = toPlan(c.p), u = pb - toPlan(a.p), v = pc - toPlan(d.p);
    const double area = cross(u, v), most = glm::distance(pb, pc);
    if (std::abs(area) < 1e-12) return std::nullopt;
    const double t = cross(pc - pb, v) / area, s = cross(pc - pb, u) / area;
    if (t <= 0 || s <= 0 || t * glm::length(u) > most || s * glm::length(v) > most) return std::nullopt;
    return toLattice(pb + u * t);
  }

  /// Whether a part of the border other than the one between two of its corners comes so near that both could meet when simplified.
  bool othersNear(const std::array<LatticePoint, 3>& corners, std::size_t loop, std::uint32_t first, std::uint32_t last) const {
    Box2 box;
    for (const LatticePoint& p : corners) box.add(toPlan(p));
    return std::ranges::any_of(edgeGrid_.collect(box.grown(2 * tuning::kRoundError)), [&](std::uint32_t number) {
      const auto& [l, i, n] = edges_[number];
      return l != loop || (i + n - first) % n >= (last + n - first) % n;
    });
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

  struct EdgeOfLoop {
    std::size_t loop, corner, count;
  };

  const ground::Clearance& clearance_;
  const nav::Agent& agent_;
  std::vector<EdgeOfLoop> edges_;  // of the border as it was
  PlanGrid edgeGrid_;
};

}  // namespace

SheetBorder sheetBorder(const SheetInput& input, std::int32_t sheet, std::span<const LowLine> low) {
  std::vector<std::vector<BorderCorner>> loops = chain(borderEdges(input.cells, sheet));
  pinEnds(low, loops);
  const Simplifier simplifier(input, loops);
  SheetBorder border;
  for (std::size_t i = 0; i < loops.size(); ++i) {
    std::vector<BorderCorner>& loop = loops[i];
    simplifier.run(loop, i);
    if (loop.size() < 3) continue;
    border.loops.emplace_back();
    for (const BorderCorner& c : loop) {
      border.loops.back().push_back({c.p, c.beyond});
      if (c.pinned) border.pinned.push_back(c.p);
    }
  }
  std::sort(border.pinned.begin(), border.pinned.end());
  return border;
}

}  // namespace dune::generate
