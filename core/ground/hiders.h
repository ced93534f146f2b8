#pragma once
// Triangles close over a ground: where one of them is, nobody stands on it.

#include <span>

#include "core/ground/standing.h"

namespace dune::ground {

/// The largest triangles too low over the plane of one triangle of ground. Most lines of furniture lie under other parts of it; a place
/// under one of these needs no column.
class Hiders {
 public:
  explicit Hiders(const Standing& standing) : soup_(standing.soup()), agent_(standing.agent()) {}

  /// Looks among `near` for those over the ground of a number. What stands within `least` metres of the plane is hidden too. O(near).
  void find(std::uint32_t ground, std::span<const std::uint32_t> near, double least);
  /// Whether both sides of a place are hidden.
  bool hide(const Vec2& q, const Vec2& aside) { return hide(q + aside) && hide(q - aside); }
  /// Whether one triangle hides both sides of a line, or the whole of a triangle.
  bool hideLine(const Vec2& a, const Vec2& b, const Vec2& aside) const;
  bool hideAll(const Triangle& ground) const { return oneCovers(ground.q); }

 private:
  bool hide(const Vec2& q);
  bool oneCovers(std::span<const Vec2> places) const;

  const Soup& soup_;
  const nav::Agent& agent_;
  std::vector<std::uint32_t> all_;
  std::size_t last_ = 0;  // the one that hid the last place: places are asked about in a row
};

}  // namespace dune::ground
