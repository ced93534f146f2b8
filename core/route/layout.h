#pragma once
// What of a mesh prepared for queries does not depend on anybody's rules: where things are, its border, links by face. Shared by the
// Fields of all rules over one mesh.

#include "core/base/union_find.h"
#include "core/route/link_lanes.h"

namespace dune::route {

/// What lies beyond each edge, and the links by face.
class Adjacency {
 public:
  /// Keeps a reference to the mesh. O(corners).
  explicit Adjacency(const nav::NavMesh& mesh);

  struct LinkEnd {
    std::uint32_t link;  ///< index into mesh().links
    bool forward;        ///< from → to
  };

  const nav::NavMesh& mesh() const { return mesh_; }
  /// The ways over a link of the mesh, by its index.
  const std::vector<LinkLane>& lanes(std::size_t link) const { return lanes_[link]; }
  /// Of the edge at a corner number that two faces share: its number in the face beyond.
  std::uint32_t edgeBeyond(std::uint32_t corner) const { return beyond_[corner]; }
  std::span<const LinkEnd> linksFrom(nav::FaceId f) const { return from_.at(f); }
  /// Those by which one comes to a face.
  std::span<const LinkEnd> linksInto(nav::FaceId f) const { return into_.at(f); }

 private:
  const nav::NavMesh& mesh_;
  std::vector<std::uint32_t> beyond_;         // one a corner
  std::vector<std::vector<LinkLane>> lanes_;  // one a link
  void pairEdges();
  void findLanes();
  struct ByFace {
    std::vector<std::uint32_t> start;
    std::vector<LinkEnd> links;
    std::span<const LinkEnd> at(nav::FaceId f) const {
      return std::span(links).subspan(start[index(f)], start[index(f) + 1] - start[index(f)]);
    }
  };
  ByFace from_, into_;
  ByFace sortLinks(bool into) const;
};

/// Sets of corner numbers: the corners at both ends of an edge are those of the face beyond, wherever `over` holds for the edge.
template <class Over>
UnionFind joinedCorners(const Adjacency& adjacency, Over&& over) {
  const nav::NavMesh& mesh = adjacency.mesh();
  UnionFind same(mesh.corners.size());
  const auto after = [&](std::uint32_t f, std::uint32_t c) { return c + 1 == mesh.start[f + 1] ? mesh.start[f] : c + 1; };
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    for (std::uint32_t c = mesh.start[f]; c < mesh.start[f + 1]; ++c) {
      if (mesh.across[c] == nav::kNoFace || !over(c)) continue;
      const std::uint32_t g = index(mesh.across[c]), back = mesh.start[g] + adjacency.edgeBeyond(c);
      same.unite(after(f, c), back), same.unite(c, after(g, back));
    }
  return same;
}

class Layout : public Adjacency {
 public:
  /// Keeps a reference to the mesh, which must outlive it. O(corners).
  explicit Layout(const nav::NavMesh& mesh) : Adjacency(mesh), locator_(mesh) {}
  Layout(const Layout&) = delete;
  Layout& operator=(const Layout&) = delete;

  const nav::Locator& locator() const { return locator_; }

 private:
  nav::Locator locator_;
};

}  // namespace dune::route
