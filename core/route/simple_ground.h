#pragma once
// The ground as a search in plan sees it: a path of one cost is straight in plan whatever the ground's heights are, so corners at which
// only the height changes are of no use to it.
//
// 1. Of the ground that the rules allow; kinds that no path tells apart are one. The border, and the edges between kinds, are those of the
//    mesh, corner by corner.
// 2. Corners within are taken out one by one, and what lay around each is cut into triangles anew (as in Kirkpatrick, "Optimal search in
//    planar subdivisions", SIAM J. Comput. 1983); then edges are flipped until none of two faces is better the other way (Lawson 1977), and
//    left out where what they part is convex as one (Hertel & Mehlhorn, "Fast triangulation of the plane with respect to simple polygons",
//    Inf. Control 1985), the longest first.
// 3. Storeys, spirals and whatever else lies above itself stay apart: everything is done around one corner or edge.
//
// A terrain of a million faces with four thousand holes comes down to a fiftieth; time is O(corners), a few microseconds each.

#include "core/nav/rules.h"
#include "core/route/layout.h"

namespace dune::route {

/// Two edges of the border that a wide link joins, as far as it does: whoever leaves over the one comes in over the other, shifted. Ground
/// on both sides is of one class, so that a way over it is straight but for the shift.
struct Gate {
  std::uint32_t out = 0, in = 0;    ///< corner numbers of the edges
  nav::FaceId outFace{}, inFace{};  ///< whose they are
  std::uint32_t link = 0;           ///< of `mesh`, in its middle
  bool forward = true;              ///< the way that the link is taken
  Vec2 by{};                        ///< the shift
  Vec2 right{}, left{};             ///< ends of the part of the edge, as they are seen by who leaves
  /// The other way over it. Who comes in sees its ends the other way round.
  Gate reversed() const { return {in, out, inFace, outFace, link, forward, -by, left + by, right + by}; }
};

struct SimpleGround {
  nav::NavMesh mesh;  ///< without islands; each area is one kind of its class. What is forbidden is no ground
  std::vector<std::uint32_t>
      linkOf;                       ///< one a link of `mesh`: its index in the whole mesh. Links that end on forbidden ground are left out
  std::vector<double> laneOf;       ///< likewise: which of its lanes it is, by LinkLane::t; a wide link is a link a lane here
  std::vector<Gate> gates;          ///< over wide links
  std::vector<char> gated;          ///< one a link of `mesh`: whether gates do what it does
  std::vector<nav::FaceId> inside;  ///< one a face of the whole mesh: the face in which its centre lies; none where it is forbidden
  std::vector<char> wholly;         ///< likewise: whether all of it lies in that face
  std::vector<std::uint16_t> classOf;  ///< one a kind: the least kind that costs the same in every way
  std::vector<nav::Rules> only;        ///< one a kind: rules that allow the kinds of its class alone

  /// A place of the whole mesh here, on the same kind of ground; none where it is forbidden. O(faces crossed from the middle of its face).
  nav::Place at(const nav::NavMesh& whole, const nav::Place& place) const;
};

SimpleGround simplify(const Adjacency& whole, const nav::Rules& rules);
/// All faces as they are: slow to search, and the same ways.
SimpleGround asItIs(const Adjacency& whole, const nav::Rules& rules);

}  // namespace dune::route
