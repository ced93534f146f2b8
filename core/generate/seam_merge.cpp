// Only faces at such edges are touched: a level has few of them, and a partial rebuild pays for this each time.

#include "core/generate/seam_merge.h"

#include <algorithm>

#include "core/base/union_find.h"
#include "core/generate/face_shape.h"
#include "core/generate/straight_runs.h"
#include "core/generate/tuning.h"

namespace dune::generate {

namespace {

struct SeamCorner {
  std::uint32_t vertex;
  nav::FaceId across;  // over the edge that begins here
};
using SeamLoop = std::vector<SeamCorner>;

class SeamMerger {
 public:
  SeamMerger(nav::NavMesh& mesh, const SeamEdges& edges) : mesh_(mesh), slot_(mesh.faceCount(), -1), onSeam_(mesh.vertices.size(), 0) {
    sets_ = UnionFind(mesh.faceCount());
    gatherEdges(edges);
  }

  void run() {
    // Blocks of chunks become convex one after the other, so what could not be merged at first may be later.
    for (bool more = true; more;) {
      more = false;
      for (const Edge& edge : edges_) more |= merge(edge);
    }
    dissolveStraightCorners();
    write();
  }

 private:
  auto place() const {
    return [this](const SeamCorner& c) { return mesh_.vertices[c.vertex]; };
  }
  auto lattice() const {
    return [this](const SeamCorner& c) { return toLattice(plan(mesh_.vertices[c.vertex])); };
  }

  struct Edge {
    std::uint32_t a, b, left, right;  // `left` has a → b
    double length;
    std::uint32_t corner;
  };

  void gatherEdges(const SeamEdges& edges) {
    for (const std::uint32_t corner : edges) {
      const auto face =
          static_cast<std::uint32_t>(std::upper_bound(mesh_.start.begin(), mesh_.start.end(), corner) - mesh_.start.begin() - 1);
      const std::uint32_t next = corner + 1 == mesh_.start[face + 1] ? mesh_.start[face] : corner + 1;
      const std::uint32_t a = mesh_.corners[corner], b = mesh_.corners[next];
      edges_.push_back({a, b, face, index(mesh_.across[corner]), glm::distance(mesh_.vertices[a], mesh_.vertices[b]), corner});
      for (const std::uint32_t f : {face, index(mesh_.across[corner])}) take(f);
      onSeam_[a] = onSeam_[b] = 1;
    }
    std::sort(edges_.begin(), edges_.end(),
              [](const Edge& x, const Edge& y) { return x.length > y.length || (x.length == y.length && x.corner < y.corner); });
  }

  void take(std::uint32_t face) {
    if (slot_[face] >= 0) return;
    slot_[face] = static_cast<std::int32_t>(loops_.size());
    SeamLoop& loop = loops_.emplace_back();
    for (std::uint32_t c = mesh_.start[face]; c < mesh_.start[face + 1]; ++c) loop.push_back({mesh_.corners[c], mesh_.across[c]});
  }

  SeamLoop& loopOf(std::uint32_t face) { return loops_[static_cast<std::size_t>(slot_[face])]; }

  bool merge(const Edge& edge) {
    const std::uint32_t p = sets_.find(edge.left), q = sets_.find(edge.right);
    if (p == q || mesh_.area[p] != mesh_.area[q]) return false;
    SeamLoop merged = splicedConvex(loopOf(p), loopOf(q), edge.a, edge.b, &SeamCorner::vertex, lattice());
    if (merged.empty() || !nearlyFlat(merged, place(), tuning::kFlat)) return false;
    loopOf(std::min(p, q)) = std::move(merged);
    loopOf(std::max(p, q)).clear();
    sets_.unite(p, q);
    return true;
  }

  /// A corner goes only when all faces that have it are at hand, and it is straight in all of them.
  void dissolveStraightCorners() {
    std::vector<std::uint8_t> uses(mesh_.vertices.size(), 0), straightUses(mesh_.vertices.size(), 0);
    auto count = [&](std::uint32_t v) { uses[v] = static_cast<std::uint8_t>(std::min(uses[v] + 1, 9)); };
    for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f)
      if (slot_[f] < 0)
        for (std::uint32_t c = mesh_.start[f]; c < mesh_.start[f + 1]; ++c) count(mesh_.corners[c]);
    for (const SeamLoop& loop : loops_)
      for (std::size_t i = 0; i < loop.size(); ++i) {
        count(loop[i].vertex);
        straightUses[loop[i].vertex] = static_cast<std::uint8_t>(
            std::min(straightUses[loop[i].vertex] + straightAt(loop, lattice(), place(), i, tuning::kFlat / 4), 9));
      }
    std::vector<char> going(mesh_.vertices.size());
    for (std::size_t v = 0; v < going.size(); ++v) going[v] = onSeam_[v] && uses[v] > 0 && uses[v] <= 2 && uses[v] == straightUses[v];
    for (bool more = true; more;) {
      more = false;
      for (const SeamLoop& loop : loops_)
        more |= keepBent(
            loop.size(), [&](std::size_t i) { return loop[i].vertex; }, [&](std::uint32_t v) { return mesh_.vertices[v]; }, going,
            tuning::kFlat / 4);
    }
    for (SeamLoop& loop : loops_) std::erase_if(loop, [&](const SeamCorner& c) { return going[c.vertex] != 0; });
  }

  void write() {
    std::vector<std::uint32_t> faceNumber(mesh_.faceCount(), 0), vertexNumber(mesh_.vertices.size(), 0);
    nav::NavMesh merged;
    std::uint32_t faces = 0;
    for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f)
      if (sets_.find(f) == f) faceNumber[f] = faces++;
    auto push = [&](std::uint32_t vertex, nav::FaceId across) {
      merged.corners.push_back(vertex);
      merged.across.push_back(across == nav::kNoFace ? nav::kNoFace : nav::FaceId{faceNumber[sets_.find(index(across))]});
      vertexNumber[vertex] = 1;
    };
    for (std::uint32_t f = 0; f < mesh_.faceCount(); ++f) {
      if (sets_.find(f) != f) continue;
      if (slot_[f] >= 0)
        for (const SeamCorner& c : loopOf(f)) push(c.vertex, c.across);
      else
        for (std::uint32_t c = mesh_.start[f]; c < mesh_.start[f + 1]; ++c) push(mesh_.corners[c], mesh_.across[c]);
      merged.start.push_back(static_cast<std::uint32_t>(merged.corners.size()));
      merged.area.push_back(mesh_.area[f]);
    }
    for (std::uint32_t v = 0; v < vertexNumber.size(); ++v)
      if (vertexNumber[v])
        vertexNumber[v] = static_cast<std::uint32_t>(merged.vertices.size()), merged.vertices.push_back(mesh_.vertices[v]);
    for (std::uint32_t& v : merged.corners) v = vertexNumber[v];
    mesh_.vertices = std::move(merged.vertices), mesh_.start = std::move(merged.start), mesh_.corners = std::move(merged.corners);
    mesh_.across = std::move(merged.across), mesh_.area = std::move(merged.area);
  }

  nav::NavMesh& mesh_;
  std::vector<Edge> edges_;
  std::vector<std::int32_t> slot_;  // of a face's loop, or -1 for faces that are not touched
  std::vector<SeamLoop> loops_;
  UnionFind sets_;  // of faces that are one
  std::vector<char> onSeam_;
};

}  // namespace

void mergeAcrossSeams(nav::NavMesh& mesh, const SeamEdges& edges) { SeamMerger(mesh, edges).run(); }

}  // namespace dune::generate
