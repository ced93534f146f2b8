#pragma once
// A triangle of the level, prepared for questions from above.

#include <array>
#include <optional>

#include "core/base/bounds.h"
#include "core/base/plan_geometry.h"
#include "core/level/world.h"

namespace dune::ground {

struct Triangle {
  std::array<Vec3, 3> p;  ///< metres
  std::array<Vec2, 3> q;  ///< the same seen from above, counter-clockwise unless upright
  double slope;           ///< radians, 0 flat to pi/2 upright
  std::uint32_t object;   ///< index into Level::objects
  level::Role role;
  std::uint16_t kind = 0;  ///< of its ground, as of a level::KindRun
  bool upright;            ///< has no area seen from above
  bool underside;          ///< its upper side is inside its own closed piece
  double y0, gu, gv;       ///< height over plan position q: y0 + gu q.x + gv q.y; meaningless when upright

  double heightAt(const Vec2& at) const { return y0 + gu * at.x + gv * at.y; }
  bool covers(const Vec2& at) const;  ///< whether `at` lies in the plan triangle, border included; never when upright
  bool owns(const Vec2& at) const;    ///< the same with half of the border, so that of two neighbours just one owns a point
  Box2 box() const;                   ///< in plan
  Interval heights() const;           ///< of its corners
};

/// Winding is not trusted: the corners are put so that the normal points up. Nothing for triangles without area.
std::optional<Triangle> makeTriangle(const std::array<Vec3, 3>& p);
std::optional<Triangle> makeTriangle(const level::Object& object, std::uint32_t triangle);

}  // namespace dune::ground
