#pragma once
// Strips that make one ground of what is parted by less than the joining distance, along lines of one triangle of ground: over gaps in
// which there is no ground near, over grooves no deeper than a step, and over cracks narrower than one looks over.

#include "core/ground/gap.h"
#include "core/ground/limits.h"

namespace dune::ground {

class Bridging {
 public:
  /// Keeps references; strips, and steps that are none of these, are added to `found`.
  Bridging(const Standing& standing, const Triangle& ground, Limits& found)
      : standing_(standing), agent_(standing.agent()), ground_(ground), found_(found) {}

  /// Over a gap along ab, beyond which ground goes on as `gap` says; `here` is the side of this ground. `asked`: between these two places
  /// it was found that it does; heights are taken just within. `places`: where it may change in between.
  void overGap(const Vec2& a, const Vec2& b, const Vec2& here, const std::array<Vec2, 2>& asked, const Gap& gap,
               std::span<const Vec2> places);
  /// Over grooves along ab, from which this ground is on the left and lower ground within `reach` on the right; the rest of it is a step.
  void stepOrGroove(const Vec2& a, const Vec2& b, const Vec2& left, double reach);
  /// Over a crack right along ab, where ground on both sides is one already, with a step of `rise` or none.
  void closeHairline(const Vec2& a, const Vec2& b, const Vec2& left, double rise);

  /// By how much the height of one ground may differ so far beside a place.
  double slack(double beside) const;
  /// Triangles outside these heights change nothing for ground along a line from height a to height b.
  Interval heightsThatMatter(double a, double b) const;

 private:
  std::optional<Bridge> stripOver(const Vec2& a, const Vec2& b, const Vec2& here, const std::array<Vec2, 2>& asked, const Gap& gap) const;
  void add(Bridge strip, const Vec2& here);
  double crossing(const Vec2& end, const Vec2& along, const Vec2& here) const;

  const Standing& standing_;
  const nav::Agent& agent_;
  const Triangle& ground_;
  Limits& found_;
};

}  // namespace dune::ground
