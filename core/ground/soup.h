#pragma once
// The triangles around a chunk, or of a whole small world, prepared for questions from above.
//
// 1. Only triangles with area of objects that count (not ignored) are kept, in the order of the level.
// 2. Winding is not trusted: normals point up, and what is inside is decided by parity for closed pieces only (solids.h).
// 3. Corners are welded by position over all objects, so a floor made of many objects is one floor.

#include <span>

#include "core/base/plan_grid.h"
#include "core/base/plan_tree.h"
#include "core/ground/survey.h"
#include "core/ground/triangle.h"

namespace dune::ground {

/// A strip that joins ground over a gap that is no wider than the joining distance.
struct Bridge {
  std::array<Vec3, 4> corner;
  std::uint32_t object;  ///< whose ground it goes on with
};

class Soup {
 public:
  /// The whole world: for small levels and tests.
  explicit Soup(const level::World& world);
  /// Some triangles of a surveyed world, by number, ascending.
  Soup(const level::World& world, const Survey& survey, std::span<const std::uint32_t> numbers);

  const std::vector<Triangle>& triangles() const { return triangles_; }
  /// The same answer as Triangle::covers, faster; `onEdge` says whether q lies on an edge.
  bool covers(std::uint32_t triangle, const Vec2& q, bool& onEdge) const { return shapes_[triangle].covers(q, onEdge); }
  const PlanGrid& grid() const { return grid_; }
  /// Of the triangles that have area seen from above: what lies over a place.
  const PlanTree& above() const { return above_; }
  /// Of all: what a line crosses.
  const PlanTree& all() const { return upright_ ? all_ : above_; }
  /// The closed piece of surface that a triangle belongs to, or -1 when its piece has open edges.
  std::int64_t solidOf(std::uint32_t triangle) const { return solid_[triangle]; }

  /// Finds which triangles share edges; needed before across().
  void weld();
  /// The triangles that share the edge `e` (from corner e to corner e + 1) of a triangle, itself among them.
  std::span<const std::uint32_t> across(std::uint32_t triangle, int e) const;

  void addBridges(std::span<const Bridge> bridges);

 private:
  void add(const level::World& world, std::uint32_t object, std::uint32_t triangle, const Solids& solids);
  void index();

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
  PlanGrid grid_;
  PlanTree above_, all_;  // the second only where something stands upright
  bool upright_ = false;
};

}  // namespace dune::ground
