#pragma once
// One patch and the ground around it, cut into pieces that each belong to one face.

#include <optional>
#include <vector>

#include "core/base/bounds.h"
#include "core/base/lattice.h"
#include "core/base/plan_geometry.h"
#include "core/base/plan_grid.h"

namespace dune::hand {

/// A convex face on the lattice, counter-clockwise.
struct SheetFace {
  std::vector<LatticePoint> corners;
  std::vector<double> heights;  ///< one a corner
  std::uint16_t area = 0;       ///< kind of ground and tags, as generate::labelOf()
  bool drawn = false;           ///< by hand

  /// Over a place in it, or next to it: along its edges exact, within by the triangles at its first corner.
  double heightAt(const LatticePoint& p) const;
  Vec3 place(std::size_t i) const { return lift(toPlan(corners[i]), heights[i]); }
  Polygon outline() const;
  Box2 box() const;
};
SheetFace sheetFace(const std::vector<Vec3>& corners, std::uint16_t area);

/// The part of a segment within a convex outline, from 0 to 1.
std::optional<Interval> inConvex(const Vec2& a, const Vec2& b, const Polygon& convex);

constexpr double kOverlap = 1e-3;  // m² that two faces may have in common: their edges are on the lattice
/// What of a face lies within another, which is made larger by `by` metres.
std::vector<Vec3> within(const SheetFace& face, const SheetFace& other, double by);

class Sheet {
 public:
  std::vector<SheetFace> made;     ///< what is there afterwards
  std::vector<SheetFace> instead;  ///< whose ground goes
  std::vector<SheetFace> around;   ///< what is there before, all that touches the others
  enum class From : std::uint8_t { built, drawn, all };
  From from = From::built;  ///< from what ground it goes
  bool takesFrom(const SheetFace& face) const { return from == From::all || face.drawn == (from == From::drawn); }

  /// Whether a face touches what is made or goes, and lies within `levels` metres over or under it anywhere where it does.
  /// `regions`: see there.
  bool touches(const SheetFace& face, double levels, const PlanGrid& regions) const;
  /// What is made, and after that what goes, by place. O(their corners).
  PlanGrid regions() const;
  /// A place where two faces of what is around, or two of what is made, lie over each other and not at one height.
  std::optional<Vec3> foldedAt() const;
  /// The made faces and what is left of those around, convex; neighbours have the same corners on their common edges. O(n log n).
  struct Piece {
    SheetFace shape;
    bool made;
    std::uint32_t of;  ///< number in `made` or `around`
  };
  std::vector<Piece> pieces() const;

 private:
  const SheetFace& region(std::uint32_t number) const { return number < made.size() ? made[number] : instead[number - made.size()]; }
};

}  // namespace dune::hand
