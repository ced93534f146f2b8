#pragma once
// A mesh prepared for queries: where things are, which corners a path may bend at, where areas meet, links by face.

#include "core/links/attach.h"
#include "core/mesh/locator.h"

namespace dune::route {

class Field {
 public:
  static constexpr double kPointSpacing = 0.25;  ///< metres between the places on an area's border where a path may bend

  /// Keeps a reference to the mesh. Links of the mesh are used as they are. O(faces).
  explicit Field(const mesh::NavMesh& mesh);

  struct LinkEnd {
    std::uint32_t link;  ///< index into mesh().links
    bool forward;        ///< from → to
  };

  const mesh::NavMesh& mesh() const { return mesh_; }
  const mesh::Locator& locator() const { return locator_; }
  bool passable(mesh::FaceId f) const { return !mesh_.kindOf(f).forbidden; }
  /// Whether a shortest path may bend at the vertex: it lies on the border, or where areas meet.
  bool bends(std::uint32_t vertex) const { return bends_[vertex] != 0; }
  /// Points on the edge at corner number c where paths may bend between areas: the first number, and how many.
  std::uint32_t firstPoint(std::uint32_t corner) const { return firstPoint_[corner]; }
  std::uint32_t pointCount(std::uint32_t corner) const { return firstPoint_[corner + 1] - firstPoint_[corner]; }
  std::uint32_t allPoints() const { return firstPoint_.back(); }
  std::span<const LinkEnd> linksFrom(mesh::FaceId f) const {
    return std::span(links_).subspan(linkStart_[index(f)], linkStart_[index(f) + 1] - linkStart_[index(f)]);
  }
  /// The largest distance between two neighbouring points of an edge, metres.
  double widestSpacing() const { return widestSpacing_; }
  /// The cheapest cost per metre of any kind, at most 1.
  double leastCost() const { return leastCost_; }
  /// A cost that no way over this distance can be below. A best way goes through each face of the cheapest kind at most once,
  /// and straight, so it cannot save more than all of them together are wide.
  double leastCostOver(double distance) const { return std::max(distance * leastCost_, distance - mostSaved_); }
  /// How far, in plan, it is at least to ground or a link that costs less than 1 a metre; infinite without any.
  double toCheap(const Vec2& p) const;

  /// The faces that can be reached from a face over ground and links, forbidden ones left out.
  std::vector<char> reachable(mesh::FaceId from) const;
  /// Whether one of them is `to`; at once where both lie in one piece of ground, else O(pieces that links join).
  bool reaches(mesh::FaceId from, mesh::FaceId to) const;

 private:
  const mesh::NavMesh& mesh_;
  mesh::Locator locator_;
  std::vector<char> bends_;
  std::vector<std::uint32_t> firstPoint_;
  std::vector<std::uint32_t> linkStart_;
  std::vector<LinkEnd> links_;
  double leastCost_ = 1, mostSaved_ = 0, widestSpacing_ = 0;
  std::vector<Box2> cheap_;  // around each piece of cheap ground, and each cheap link
  void findSavings();
  void findCheap();
  void findPieces();

  static constexpr std::uint32_t kNoPiece = 0xffffffffu;
  std::vector<std::uint32_t> piece_;                 // one a face: which piece of ground that hangs together; none where it is forbidden
  std::vector<std::vector<std::uint32_t>> pieceTo_;  // one a piece: those that links lead to
};

}  // namespace dune::route
