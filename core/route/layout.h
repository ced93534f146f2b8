#pragma once
// What of a mesh prepared for queries does not depend on anybody's rules: where things are, its border, links by face. Shared by the
// Fields of all rules over one mesh.

#include "core/nav/locator.h"

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
  /// Of the edge at a corner number that two faces share: its number in the face beyond.
  std::uint32_t edgeBeyond(std::uint32_t corner) const { return beyond_[corner]; }
  std::span<const LinkEnd> linksFrom(nav::FaceId f) const {
    return std::span(links_).subspan(linkStart_[index(f)], linkStart_[index(f) + 1] - linkStart_[index(f)]);
  }

 private:
  const nav::NavMesh& mesh_;
  std::vector<std::uint32_t> beyond_;  // one a corner
  void pairEdges();
  std::vector<std::uint32_t> linkStart_;
  std::vector<LinkEnd> links_;
};

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
