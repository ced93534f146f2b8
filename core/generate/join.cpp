#include "core/generate/join.h"

#include <algorithm>

#include "core/base/union_find.h"
#include "core/generate/half_edges.h"
#include "core/generate/seam_merge.h"

namespace dune::generate {

namespace {

constexpr std::size_t kLeft = 0, kRight = 1, kBottom = 2, kTop = 3;
constexpr std::uint32_t kNone = 0xffffffffu;

/// A corner that an edge gets from the other side.
struct Extra {
  std::uint32_t corner;  // where the edge begins, counted over all chunks
  std::int64_t along;    // in the direction of the edge
  std::uint32_t point;   // counted over all chunks
  auto operator<=>(const Extra&) const = default;
};

class Joiner {
 public:
  Joiner(const std::vector<ChunkPart>& parts, double meets) : parts_(parts), meets_(meets) {
    for (const ChunkPart& part : parts_) {
      firstPoint_.push_back(static_cast<std::uint32_t>(heights_.size()));
      firstCorner_.push_back(corners_);
      firstFace_.push_back(faces_);
      heights_.insert(heights_.end(), part.mesh->heights.begin(), part.mesh->heights.end());
      corners_ += static_cast<std::uint32_t>(part.mesh->corners.size());
      faces_ += static_cast<std::uint32_t>(part.mesh->area.size());
    }
    one_ = UnionFind(heights_.size());
  }

  void run(nav::NavMesh& mesh) {
    for (std::size_t i = 0; i < parts_.size(); ++i) {
      const ground::ChunkId id = parts_[i].id;
      if (const std::size_t j = find({id.row, id.column + 1}); j < parts_.size()) joinSide(i, kRight, j, kLeft);
      if (const std::size_t j = find({id.row + 1, id.column}); j < parts_.size()) joinSide(i, kTop, j, kBottom);
    }
    std::sort(extras_.begin(), extras_.end());
    writePoints(mesh);
    writeFaces(mesh);
    mergeAcrossSeams(mesh, connectSides(mesh));
  }

 private:
  std::size_t find(ground::ChunkId id) const {
    const auto at = std::lower_bound(parts_.begin(), parts_.end(), id, [](const ChunkPart& p, ground::ChunkId k) { return p.id < k; });
    return at != parts_.end() && at->id == id ? static_cast<std::size_t>(at - parts_.begin()) : parts_.size();
  }

  void joinSide(std::size_t i, std::size_t sideOfI, std::size_t j, std::size_t sideOfJ) {
    const auto &mine = parts_[i].mesh->sides[sideOfI], &theirs = parts_[j].mesh->sides[sideOfJ];
    std::size_t begin = 0;
    // Edges are ascending by where they begin and, of one storey, do not overlap; `longest` bounds how far back one may reach.
    std::int64_t longest = 0;
    for (const SideEdge& b : theirs) longest = std::max(longest, b.high - b.low);
    for (const SideEdge& a : mine) {
      while (begin < theirs.size() && theirs[begin].low + longest <= a.low) ++begin;
      for (std::size_t k = begin; k < theirs.size() && theirs[k].low < a.high; ++k)
        if (theirs[k].high > a.low) joinEdges(i, a, j, theirs[k]);
    }
  }

  double heightAlong(std::size_t i, const SideEdge& e, std::int64_t at) const {
    const double t = static_cast<double>(at - e.low) / static_cast<double>(e.high - e.low);
    const auto& heights = parts_[i].mesh->heights;
    return heights[e.atLow] + (heights[e.atHigh] - heights[e.atLow]) * t;
  }

  void joinEdges(std::size_t i, const SideEdge& a, std::size_t j, const SideEdge& b) {
    const std::int64_t low = std::max(a.low, b.low), high = std::min(a.high, b.high);
    for (const std::int64_t at : {low, high})
      if (std::abs(heightAlong(i, a, at) - heightAlong(j, b, at)) > meets_) return;
    for (const std::int64_t at : {low, high}) {
      const std::uint32_t p = pointAt(i, a, at), q = pointAt(j, b, at);
      if (p != kNone && q != kNone)
        one_.unite(p, q);
      else if (p != kNone)
        addExtra(j, b, at, p);
      else
        addExtra(i, a, at, q);
    }
  }

  std::uint32_t pointAt(std::size_t i, const SideEdge& e, std::int64_t at) const {
    if (at == e.low) return firstPoint_[i] + e.atLow;
    return at == e.high ? firstPoint_[i] + e.atHigh : kNone;
  }

  void addExtra(std::size_t i, const SideEdge& e, std::int64_t at, std::uint32_t point) {
    const bool upwards = parts_[i].mesh->corners[e.corner] == e.atLow;
    extras_.push_back({firstCorner_[i] + e.corner, upwards ? at : -at, point});
  }

  void writePoints(nav::NavMesh& mesh) {
    number_.assign(one_.size(), kNone);
    for (std::size_t i = 0; i < parts_.size(); ++i)
      for (std::uint32_t k = 0; k < parts_[i].mesh->points.size(); ++k) {
        const std::uint32_t p = firstPoint_[i] + k;
        if (one_.find(p) != p) continue;
        number_[p] = static_cast<std::uint32_t>(mesh.vertices.size());
        mesh.vertices.push_back(lift(toPlan(parts_[i].mesh->points[k]), heights_[p]));
      }
  }

  void writeFaces(nav::NavMesh& mesh) {
    auto extra = extras_.begin();
    for (std::size_t i = 0; i < parts_.size(); ++i) {
      const ChunkMesh& part = *parts_[i].mesh;
      for (std::uint32_t f = 0; f < part.area.size(); ++f) {
        for (std::uint32_t c = part.start[f]; c < part.start[f + 1]; ++c) {
          push(mesh, firstPoint_[i] + part.corners[c],
               part.across[c] < 0 ? nav::kNoFace : nav::FaceId{firstFace_[i] + static_cast<std::uint32_t>(part.across[c])});
          for (; extra != extras_.end() && extra->corner == firstCorner_[i] + c; ++extra)
            if (number_[one_.find(extra->point)] != mesh.corners.back()) push(mesh, extra->point, nav::kNoFace);
        }
        mesh.start.push_back(static_cast<std::uint32_t>(mesh.corners.size()));
        mesh.area.push_back(part.area[f]);
      }
    }
  }

  void push(nav::NavMesh& mesh, std::uint32_t point, nav::FaceId across) {
    mesh.corners.push_back(number_[one_.find(point)]);
    mesh.across.push_back(across);
  }

  /// Edges without a face beyond them that have become the same edge in two directions.
  static SeamEdges connectSides(nav::NavMesh& mesh) {
    std::vector<HalfEdge> halves;
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
      for (std::uint32_t c = mesh.start[f]; c < mesh.start[f + 1]; ++c)
        if (mesh.across[c] == nav::kNoFace)
          halves.push_back(HalfEdge::between(mesh.corners[c], mesh.corners[c + 1 == mesh.start[f + 1] ? mesh.start[f] : c + 1], c, f));
    SeamEdges connected;
    eachPair(halves, [&](const HalfEdge& x, const HalfEdge& y) {
      mesh.across[x.corner] = nav::FaceId{y.face};
      mesh.across[y.corner] = nav::FaceId{x.face};
      connected.push_back(x.corner);
    });
    return connected;
  }

  const std::vector<ChunkPart>& parts_;
  double meets_;
  std::vector<std::uint32_t> firstPoint_, firstCorner_, firstFace_;
  std::uint32_t corners_ = 0, faces_ = 0;
  std::vector<double> heights_;
  UnionFind one_;                      // points that have become one
  std::vector<std::uint32_t> number_;  // of the vertex that a point has become
  std::vector<Extra> extras_;
};

/// Whether every triangle between corner `first` of a face and an edge has area.
bool isWholeFan(const std::vector<LatticePoint>& face, std::size_t first) {
  const std::size_t n = face.size();
  for (std::size_t i = 1; i + 1 < n; ++i)
    if (orientation(face[first], face[(first + i) % n], face[(first + i + 1) % n]) <= 0) return false;
  return true;
}

}  // namespace

void turnFans(nav::NavMesh& mesh) {
  std::vector<LatticePoint> face;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    face.clear();
    for (const std::uint32_t v : mesh.cornersOf(nav::FaceId{f})) face.push_back(toLattice(plan(mesh.vertices[v])));
    if (face.size() < 4 || isWholeFan(face, 0)) continue;
    std::size_t best = 0;
    while (best < face.size() && !isWholeFan(face, best)) ++best;
    if (best == face.size()) continue;
    const auto from = static_cast<std::ptrdiff_t>(mesh.start[f]), to = static_cast<std::ptrdiff_t>(mesh.start[f + 1]);
    const auto turn = [&](auto& list) {
      std::rotate(list.begin() + from, list.begin() + from + static_cast<std::ptrdiff_t>(best), list.begin() + to);
    };
    turn(mesh.corners), turn(mesh.across);
  }
}

nav::NavMesh joinChunks(const level::World& world, const nav::Agent& agent, const std::vector<ChunkPart>& parts, double meets) {
  nav::NavMesh mesh;
  mesh.agent = agent;
  for (const level::AreaKind& kind : world.kinds) mesh.kinds.push_back({kind.name, kind.colour});
  Joiner(parts, meets).run(mesh);
  turnFans(mesh);
  nav::labelIslands(mesh);
  return mesh;
}

nav::NavMesh keepFaces(const nav::NavMesh& mesh, const std::vector<char>& keep) {
  nav::NavMesh kept;
  kept.agent = mesh.agent, kept.kinds = mesh.kinds;
  std::vector<std::uint32_t> face(mesh.faceCount(), kNone), vertex(mesh.vertices.size(), kNone);
  std::uint32_t faces = 0;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    if (keep[f]) face[f] = faces++;
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    if (!keep[f]) continue;
    for (std::uint32_t c = mesh.start[f]; c < mesh.start[f + 1]; ++c) {
      std::uint32_t& v = vertex[mesh.corners[c]];
      if (v == kNone) v = static_cast<std::uint32_t>(kept.vertices.size()), kept.vertices.push_back(mesh.vertices[mesh.corners[c]]);
      kept.corners.push_back(v);
      const nav::FaceId g = mesh.across[c];
      kept.across.push_back(g == nav::kNoFace || face[index(g)] == kNone ? nav::kNoFace : nav::FaceId{face[index(g)]});
    }
    kept.start.push_back(static_cast<std::uint32_t>(kept.corners.size()));
    kept.area.push_back(mesh.area[f]);
  }
  for (nav::Link link : mesh.links) {
    if (!keep[index(link.fromFace)] || !keep[index(link.toFace)]) continue;
    link.fromFace = nav::FaceId{face[index(link.fromFace)]}, link.toFace = nav::FaceId{face[index(link.toFace)]};
    kept.links.push_back(link);
  }
  nav::labelIslands(kept);
  return kept;
}

}  // namespace dune::generate
