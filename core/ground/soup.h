#pragma once
// The triangles around a chunk, or of a whole small world, prepared for questions from above.
//
// 1. Only triangles with area of objects that count (not ignored) are kept, in the order of the level.
// 2. Winding is not trusted: normals point up, and what is inside is decided by parity for closed pieces only (solids.h).
// 3. Corners are welded by position over all objects, so a floor made of many objects is one floor.
// 4. What finds triangles by place is made by the first question, once all bridges are in: a soup is asked by one thread at a time
//    until it was prepared.

#include <memory>
#include <span>

#include "core/base/box_tree.h"
#include "core/base/plan_tree.h"
#include "core/ground/survey.h"
#include "core/ground/triangle.h"

namespace dune::ground {

/// A strip that joins ground over a gap that is no wider than the joining distance.
struct Bridge {
  std::array<Vec3, 4> corner;
  std::uint32_t object;  ///< whose ground it goes on with
  bool overGap = false;  ///< otherwise over a steep part that is a step

  /// As triangles.
  std::array<std::array<Vec3, 3>, 2> halves() const { return {{{corner[0], corner[1], corner[2]}, {corner[0], corner[2], corner[3]}}}; }
};

/// A box of the plan between two heights.
inline Box3 box3(const Box2& box, const Interval& heights) {
  Box3 all;
  all.add(lift(box.min, heights.from)), all.add(lift(box.max, heights.to));
  return all;
}

class Soup {
 public:
  /// The whole world: for small levels and tests.
  explicit Soup(const level::World& world);
  /// Some triangles of a surveyed world, by number, ascending.
  Soup(const level::World& world, const Survey& survey, std::span<const std::uint32_t> numbers);

  const std::vector<Triangle>& triangles() const { return triangles_; }
  /// The same answer as Triangle::covers, faster; `onEdge` says whether q lies on an edge.
  bool covers(std::uint32_t triangle, const Vec2& q, bool& onEdge) const { return shapes_[triangle].covers(q, onEdge); }
  /// The triangles that come into a box of the plan between two heights, ascending, and maybe some that only their boxes do.
  void near(const Box2& box, const Interval& heights, std::vector<std::uint32_t>& out) const {
    index().tree.collect(box3(box, heights), out);
  }
  std::vector<std::uint32_t> near(const Box2& box, const Interval& heights) const { return index().tree.collect(box3(box, heights)); }
  /// Between which heights a triangle may matter to what one asks over it: its own, and those that its closed piece begins at below it.
  const Interval& matters(std::uint32_t triangle) const { return index().matters[triangle]; }
  /// Of the triangles that have area seen from above: what lies over a place.
  const PlanTree& above() const { return index().above; }
  /// A superset of the triangles over a place that matter between two heights, ascending; kept in `scratch` where there are many.
  std::span<const std::uint32_t> over(const Vec2& q, const Interval& heights, std::vector<std::uint32_t>& scratch) const;
  /// The triangles whose boxes come nearer than `beside` to a segment of the plan between two heights.
  void along(const Vec2& a, const Vec2& b, double beside, const Interval& heights, std::vector<std::uint32_t>& out) const {
    index().tree.along(a, b, beside, heights, out);
  }
  /// The closed piece of surface that a triangle belongs to, or -1 when its piece has open edges.
  std::int64_t solidOf(std::uint32_t triangle) const { return solid_[triangle]; }
  /// Whether any triangle belongs to a closed piece; whether any cuts the ground.
  bool hasSolids() const { return hasSolids_; }
  bool cuts() const { return cuts_; }
  /// Whether any triangle's ground is of a kind of its own.
  bool hasKinds() const { return hasKinds_; }

  /// Finds which triangles share edges; needed before across().
  void weld();
  /// How many triangles were there when edges were found: bridges come after them.
  std::size_t weldedCount() const { return edgeOf_.size() / 3; }
  /// The triangles that share the edge `e` (from corner e to corner e + 1) of a triangle, itself among them.
  std::span<const std::uint32_t> across(std::uint32_t triangle, int e) const;

  void addBridges(std::span<const Bridge> bridges);
  /// Makes what finds triangles by place now; from then on many threads may ask, until something is added.
  void prepare() const { index(); }

 private:
  void add(const level::World& world, std::uint32_t object, std::uint32_t triangle, const Solids& solids);
  /// What finds triangles by place.
  struct Index {
    std::vector<Interval> matters;
    BoxTree tree;
    PlanTree above;
    BoxTree columns;  // where cells of that have many: of the triangles `flat`, by the heights at which they matter
    std::vector<std::uint32_t> flat;
  };
  const Index& index() const {
    if (!index_) makeIndex();
    return *index_;
  }
  void makeIndex() const;
  std::vector<Interval> findHeights() const;
  void take(const Triangle& t, std::int64_t solid);

  /// A triangle seen from above as its box and three signed distances, in the arithmetic of Triangle::covers.
  struct Shape {
    Box2 box;
    struct Side {
      Vec2 from, along;
    } sides[3];
    explicit Shape(const Triangle& t);
    bool covers(const Vec2& q, bool& onEdge) const {
      if (!box.contains(q)) return false;
      double least = 1;
      for (const Side& s : sides) least = std::min(least, cross(s.along, q - s.from));
      onEdge = least == 0;
      return least >= 0;
    }
  };

  std::vector<Triangle> triangles_;
  std::vector<Shape> shapes_;
  std::vector<std::uint32_t> edgeOf_;  // three a triangle: number of the welded edge
  std::vector<std::uint32_t> edgeStart_, edgeTriangles_;
  std::vector<std::int64_t> solid_;
  mutable std::shared_ptr<const Index> index_;
  bool hasSolids_ = false, cuts_ = false, hasKinds_ = false;
};

}  // namespace dune::ground
