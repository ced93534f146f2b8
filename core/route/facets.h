#pragma once
// A mesh as triangles in space, each folded flat into the plane of its neighbour when one goes over their edge: the ground as a way that
// is measured in space sees it.
//
// A face of more than three corners is the fan of triangles at its first corner, as heights on it are (nav::heightOn); where some of these
// are without area it is cut otherwise (face_cut.h). For a fan nothing is stored: what is asked is worked out from the corners.

#include "core/nav/rules.h"
#include "core/route/face_cut.h"
#include "core/route/layout.h"

namespace dune::route {

/// A triangle of a face, by its number in it; of a fan that of the first corner and two that follow each other. Its corners and edges are
/// numbered from 0 to 2, edge i from corner i to the next.
struct Facet {
  nav::FaceId face = nav::kNoFace;
  std::uint32_t fan = 0;  ///< of a fan 0 is that of the corners 0, 1 and 2
  bool valid() const { return face != nav::kNoFace; }
  bool operator==(const Facet&) const = default;
};

/// An edge or a corner of a triangle.
struct FacetPart {
  Facet facet{};
  unsigned i = 0;
  bool operator==(const FacetPart&) const = default;
};

/// A triangle in the plane: its edge from (0, 0) to (length, 0), its third corner on the left of that.
struct FlatFacet {
  double length;
  Vec2 apex;
};

class Facets {
 public:
  /// Of the ground that the rules allow; it ends where another class of kinds begins, `classOf` each kind, as it does at the border. Keeps
  /// references to all. O(corners).
  Facets(const Adjacency& adjacency, const nav::Rules& rules, const std::vector<std::uint16_t>& classOf);
  Facets(const Facets&) = delete;
  Facets& operator=(const Facets&) = delete;

  /// The number of a triangle, from 0, by face.
  std::uint32_t number(const Facet& t) const { return mesh_.start[index(t.face)] - 2 * index(t.face) + t.fan; }
  const nav::NavMesh& mesh() const { return mesh_; }
  /// Whether the rules allow the ground.
  bool allowed(const Facet& t) const { return rules_.passable(mesh_, t.face); }

  std::uint32_t cornerNumber(const Facet& t, unsigned i) const {
    const std::uint32_t cut = cutAt_[index(t.face)],
                        inFace = cut == kFan ? (i % 3 == 0 ? 0 : t.fan + i % 3) : cuts_[cut + t.fan].corner[i % 3];
    return mesh_.start[index(t.face)] + inFace;
  }
  const Vec3& at(const Facet& t, unsigned i) const { return mesh_.vertices[mesh_.corners[cornerNumber(t, i)]]; }
  /// The triangle over an edge, and the number of the edge there; none where the ground ends.
  FacetPart over(const Facet& t, unsigned edge) const;
  /// The next part around a corner to the left, over the edge that ends there, and to the right, over the one that begins there.
  FacetPart leftOf(const FacetPart& corner) const { return over(corner.facet, (corner.i + 2) % 3); }
  FacetPart rightOf(const FacetPart& corner) const;
  /// Calls `visit` for all parts around a corner's spot from one on to the left: at the border from the rightmost one that is all there
  /// are.
  template <class Visit>
  void eachAround(const FacetPart& corner, Visit&& visit) const {
    FacetPart at = corner;
    do {
      visit(at);
      at = leftOf(at);
    } while (at.facet.valid() && at.facet != corner.facet);
  }
  /// A triangle and those beside it that a place in it lies in as well, on an edge or at a corner.
  void around(const Facet& t, const Vec3& at, std::vector<Facet>& all) const;
  /// The triangle of its face that a place lies in seen from above, the nearest where rounding has put it beside all.
  Facet under(const nav::Place& place) const;
  /// A place in plan on the triangle's plane.
  Vec3 lifted(const Facet& t, const Vec2& q) const;
  FlatFacet flat(const Facet& t, unsigned edge) const;
  /// Where a point of its plane lies when the triangle is laid flat like that.
  Vec2 flat(const Facet& t, unsigned edge, const Vec3& p) const;
  /// The angle at a corner, radians.
  double angleAt(const Facet& t, unsigned corner) const;

  /// The vertex at a corner, on the ground that hangs together there over edges: where grounds touch at a corner only, each has one.
  std::uint32_t spot(const Facet& t, unsigned corner) const { return spot_[cornerNumber(t, corner)]; }
  std::size_t spotCount() const { return around_.size(); }
  /// All angles at a spot, radians.
  double around(std::uint32_t spot) const { return around_[spot]; }
  /// Whether all ground is as good as level: no way over it is longer in space than in plan by a ten thousandth.
  bool level() const { return level_; }
  bool isBorder(std::uint32_t spot) const { return border_[spot] != 0; }
  /// Whether a shortest way may bend there: at the border where half a turn of ground or more lies around it, within the ground where more
  /// than a whole one does (Mitchell, Mount & Papadimitriou 1987). However little more: what lies behind is seen from nowhere else.
  bool bends(std::uint32_t spot) const;

 private:
  static constexpr std::uint32_t kFan = 0xffffffffu;
  void cutFaces();
  FacetPart overSide(nav::FaceId f, std::uint32_t side) const;
  bool isLevel(const Facet& t) const;
  /// Whether ground that begins over an edge, by its corner number, goes on with that before it.
  bool goesOn(std::uint32_t corner, nav::FaceId before) const;
  const Adjacency& adjacency_;
  const nav::NavMesh& mesh_;
  const nav::Rules& rules_;
  const std::vector<std::uint16_t>& classOf_;
  std::vector<std::uint32_t> cutAt_;  // one a face: the first of its triangles, or that it is a fan
  std::vector<CutTriangle> cuts_;
  std::vector<std::uint32_t> spot_;  // one a corner of the mesh
  std::vector<double> around_;
  std::vector<char> border_;
  bool level_ = true;
};

}  // namespace dune::route
