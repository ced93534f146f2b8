#pragma once
// Where links are left for, and where they lead to, triangle by triangle.

#include "core/route/facets.h"
#include "core/route/heading.h"

namespace dune::route {

class Field;

/// A way over a link, or over a lane of a wide one.
struct LinkFoot {
  Facet facet, landing;  ///< where it begins and ends
  Vec3 at{}, to{};       ///< on these
  std::uint32_t link;    ///< index into the mesh's
  bool forward;
  double length;  ///< what it costs, in metres of the ground at its foot
};

class LinkFeet {
 public:
  /// All that the rules of the field allow; for ways to a place as they are gone backwards. O(links).
  LinkFeet(const Field& field, Heading heading);

  /// Whether ground is the same at both ends of each, and none costs less than that for as long as it is: then no way over them is shorter
  /// than it is as the crow flies.
  bool plain() const { return plain_; }
  bool any() const { return !feet_.empty(); }
  const std::vector<LinkFoot>& all() const { return feet_; }
  /// Those that begin in a triangle: from the first number to before the second one.
  std::pair<std::size_t, std::size_t> in(const Facet& t) const;
  /// How far one leads up and down at most for each metre that it counts.
  double steepestUp() const { return up_; }
  double steepestDown() const { return down_; }
  /// By how much, in metres, a way over a wide link may be shorter than over its lanes; the most of all.
  double beside() const { return beside_; }

 private:
  std::vector<LinkFoot> feet_;  // by triangle
  bool plain_ = true;
  double beside_ = 0, up_ = 0, down_ = 0;
};

}  // namespace dune::route
