#include "core/generate/merge.h"

#include <algorithm>
#include <functional>
#include <limits>

#include "core/base/union_find.h"
#include "core/generate/face_shape.h"
#include "core/generate/half_edges.h"

namespace dune::generate {

namespace {

struct InnerEdge {
  std::uint32_t a, b, left, right;  // `left` has a → b
  std::int64_t length2;
};

class Merger {
 public:
  explicit Merger(const MergeInput& input) : in_(input), sets_(input.triangles.size()), loops_(input.triangles.size()) {
    for (std::size_t t = 0; t < loops_.size(); ++t) loops_[t].assign(in_.triangles[t].begin(), in_.triangles[t].end());
  }

  Faces run() {
    for (const InnerEdge& edge : innerEdges()) merge(edge);
    Faces faces{{in_.points.begin(), in_.points.end()}, {in_.heights.begin(), in_.heights.end()}, {}, {}, in_.flat};
    for (std::uint32_t t = 0; t < loops_.size(); ++t)
      if (sets_.find(t) == t) faces.loops.push_back(std::move(loops_[t])), faces.area.push_back(in_.area[t]);
    return faces;
  }

 private:
  auto lattice() const {
    return [this](std::uint32_t v) { return in_.points[v]; };
  }
  auto place() const {
    return [this](std::uint32_t v) { return lift(toPlan(in_.points[v]), in_.heights[v]); };
  }

  std::vector<InnerEdge> innerEdges() const {
    std::vector<HalfEdge> halves;
    for (std::uint32_t t = 0; t < in_.triangles.size(); ++t)
      for (std::uint32_t e = 0; e < 3; ++e)
        halves.push_back(HalfEdge::between(in_.triangles[t][e], in_.triangles[t][(e + 1) % 3], 3 * t + e, t));
    std::vector<InnerEdge> edges;
    eachPair(halves, [&](const HalfEdge& backward, const HalfEdge& forward) {
      const LatticePoint &p = in_.points[forward.low], &q = in_.points[forward.high];
      const std::int64_t du = q.u - p.u, dv = q.v - p.v;
      edges.push_back({forward.low, forward.high, forward.face, backward.face, du * du + dv * dv});
    });
    // Keeping edges between two reflex corners for longer was tried: 0.3 % fewer faces, not worth its code.
    std::stable_sort(edges.begin(), edges.end(), [](const InnerEdge& x, const InnerEdge& y) { return x.length2 > y.length2; });
    return edges;
  }

  void merge(const InnerEdge& edge) {
    const std::uint32_t p = sets_.find(edge.left), q = sets_.find(edge.right);
    if (p == q || in_.area[p] != in_.area[q]) return;
    Loop merged = splicedConvex(loops_[p], loops_[q], edge.a, edge.b, std::identity{}, lattice());
    if (merged.empty() || !nearlyFlat(merged, place(), in_.flat)) return;
    loops_[std::min(p, q)] = std::move(merged);
    sets_.unite(p, q);
    loops_[std::max(p, q)].clear();
  }

  const MergeInput& in_;
  UnionFind sets_;  // of triangles that are one face
  std::vector<Loop> loops_;
};

}  // namespace

Faces mergeTriangles(const MergeInput& input) { return Merger(input).run(); }

std::vector<Loop> mergeInPlan(std::span<const LatticePoint> points, std::span<const std::array<std::uint32_t, 3>> triangles) {
  const std::vector<double> heights(points.size(), 0.0);
  const std::vector<std::uint16_t> area(triangles.size(), 0);
  return mergeTriangles({points, heights, triangles, area, std::numeric_limits<double>::infinity()}).loops;
}

}  // namespace dune::generate
