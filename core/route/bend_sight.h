#pragma once
// What is seen straight, over the slopes, from each place at which a shortest way may bend, triangle by triangle.
//
// 1. Views are carried on from triangle to triangle, each folded flat into the plane of the one before, as slope_search.h does; whatever
//    lies between the two sides of a view in its triangle is seen straight over the ground. Views of which each place is nearer over an
//    end of their edge are left out (Xin & Wang, ACM TOG 2009), as those from around a hill.
// 2. A way comes to a bend at the border only such that it turns around the border there; where it would turn away from it nothing is
//    looked at (taut; Oh & Leong, "Edge N-level sparse visibility graphs", SoCS 2017). That leaves out most of what is seen over round
//    corners.
// 3. A link, or a lane of a wide one, is a bend too: what is seen from its foot may take it, and what is seen from where it lands may be
//    gone on to.

#include <span>
#include <vector>

#include "core/base/job.h"
#include "core/base/plan_geometry.h"
#include "core/route/facets.h"
#include "core/route/link_feet.h"

namespace dune::route {

constexpr std::uint32_t kNoSight = 0xffffffffu;

/// Where ways bend: a corner of the ground, or a link that is taken.
struct Bend {
  FacetPart corner{};              ///< one of those that lie there; none of a link
  const LinkFoot* link = nullptr;  ///< none of a corner
  Vec3 to{}, from{};               ///< where one comes to it, and where one goes on from; the same of a corner
};

/// A triangle as it is seen from a bend, laid flat with one of its edges on the axis.
struct Sight {
  std::uint32_t before;  ///< the sight of the triangle before it, over that edge; kNoSight where the bend lies in this one
  std::uint16_t bend;
  std::uint8_t edge;
  bool ofFoot : 1, ofLanding : 1;  ///< of a link: which of its ends sees it; of a corner both
  Vec2 root;                       ///< where it is seen from
  glm::vec2 right, left;           ///< the directions between which it is, of length 1; zero: all of it
};

/// A bend that sees a place, how far away it is, metres in space, and by which sight.
struct SeenBend {
  std::uint32_t bend;
  std::uint32_t sight;
  double length;
  double least = 0;  ///< of a way over it in all, once that is known
};

class BendSight {
 public:
  static constexpr std::size_t kMostBends = 0xffff;
  /// Looks from every bend, and from the links. Keeps references. O(triangles seen from each). Of no use when the job was cancelled, there
  /// are too many bends, or more than `most` sights would have to be kept, see all().
  BendSight(const Facets& facets, std::span<const LinkFoot> links, std::size_t most, Job& job);

  /// Whether everything was looked at.
  bool all() const { return all_; }
  const std::vector<Bend>& bends() const { return bends_; }
  const Facets& facets() const { return facets_; }
  std::size_t sightCount() const { return sights_.size(); }
  /// Adds to `seen` the bends that a way may go on to from a place on a triangle, with how far it is to the foot of a link; or those that
  /// it may have come from, with `from`. O(sights of the triangle).
  void see(const Facet& t, const Vec3& at, bool from, std::vector<SeenBend>& seen) const;
  /// Whether a way that comes to a corner by a sight of its triangle turns around the border there.
  bool turns(std::uint32_t sight, const FacetPart& corner) const;
  /// The triangle of a sight. O(log triangles).
  const Facet& facetOf(std::uint32_t sight) const;

  /// An edge that a straight way goes over.
  struct Over {
    Vec3 at;
    Facet from, into;
  };
  /// Adds those between a place in the sight's triangle and its bend, from the place to the bend.
  void over(std::uint32_t sight, const Vec3& place, std::vector<Over>& edges) const;
  /// Bytes.
  std::size_t memory() const;

 private:
  struct Found;
  void findBends();
  void measureAround(const FacetPart& corner);
  struct View;
  void look(std::uint32_t bend, std::size_t most, Found& found) const;
  bool isBeaten(const View& view, const Found& found) const;
  void lookFrom(std::uint32_t bend, bool landing, Found& found) const;
  void lookPast(const FacetPart& corner, Found& found) const;
  void lookThrough(const View& view, Found& found) const;
  void pushOver(const View& view, unsigned edge, const Vec2& first, const Vec2& last, Found& found) const;
  FacetPart rightmost(FacetPart corner) const;
  void gather(std::vector<Found> found, std::size_t count);

  const Facets& facets_;
  std::vector<Bend> bends_;
  std::vector<double> turned_;        // three a triangle: the angles at a corner's spot from the border on the right to this one
  std::vector<Facet> triangles_;      // by number
  std::vector<std::uint32_t> first_;  // one a triangle: its first sight
  std::vector<Sight> sights_;
  bool all_ = false;
};

}  // namespace dune::route
