#pragma once
// The triangles of a world, prepared for questions from above.
//
// 1. Only triangles with area of objects that count (not ignored) are kept, in the order of the level.
// 2. Winding is not trusted: normals point up, and what is inside is decided by parity for closed pieces only.
// 3. Corners are welded by position over all objects, so a floor made of many objects is one floor.

#include <array>
#include <span>

#include "core/base/plan_grid.h"
#include "core/level/world.h"

namespace dune::ground {

struct Triangle {
  std::array<Vec3, 3> p;  ///< metres
  std::array<Vec2, 3> q;  ///< the same seen from above, counter-clockwise unless upright
  double slope;           ///< radians, 0 flat to pi/2 upright
  std::uint32_t object;   ///< index into Level::objects
  level::Role role;
  bool upright;       ///< has no area seen from above
  bool underside;     ///< its upper side is inside its own closed piece
  double y0, gu, gv;  ///< height over plan position q: y0 + gu q.x + gv q.y; meaningless when upright

  double heightAt(const Vec2& at) const { return y0 + gu * at.x + gv * at.y; }
  bool covers(const Vec2& at) const;  ///< whether `at` lies in the plan triangle, border included; never when upright
  bool owns(const Vec2& at) const;    ///< the same with half of the border, so that of two neighbours just one owns a point
};

class Soup {
 public:
  explicit Soup(const level::World& world);

  const std::vector<Triangle>& triangles() const { return triangles_; }
  const PlanGrid& grid() const { return grid_; }
  /// The closed piece of surface that a triangle belongs to, or -1 when its piece has open edges.
  int solidOf(std::uint32_t triangle) const { return solid_[triangle]; }
  /// The triangles that share the edge `e` (from corner e to corner e + 1) of a triangle, itself among them.
  std::span<const std::uint32_t> across(std::uint32_t triangle, int e) const;

  /// Adds a strip of ground between ground that almost touches; it belongs to `object`. Call index() when done.
  void addBridge(const std::array<Vec3, 3>& p, std::uint32_t object);
  void index();

 private:
  void add(const std::array<Vec3, 3>& p, std::uint32_t object, level::Role role);
  void weld();
  void findSolids();
  void findUndersides();

  std::vector<Triangle> triangles_;
  std::vector<std::array<std::uint32_t, 3>> corners_;  // welded corner numbers
  std::vector<std::uint32_t> edgeOf_;                  // three a triangle: number of the welded edge
  std::vector<std::uint32_t> edgeStart_, edgeTriangles_;
  std::vector<int> solid_;
  PlanGrid grid_;
};

}  // namespace dune::ground
