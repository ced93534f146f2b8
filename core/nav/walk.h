#pragma once
// Walking over a mesh from face to face: straight lines, steps that slide along the border, and the border near a place. What is reached
// is always connected ground: storeys above and below, and the other side of a wall, are never touched.
//
// With rules, ground that they forbid ends the ground as the border does; without, only the border.

#include "core/nav/rules.h"

namespace dune::nav {

/// A straight line over the ground.
struct Ray {
  Place end;        ///< where it arrived, or where it met the border
  bool reached;     ///< whether it arrived
  double cost = 0;  ///< of its length so far under the rules, entries included; its length without
};
/// An edge that a line crosses.
struct Crossing {
  Vec2 at;
  FaceId into;
  double height;
};
/// The straight line from a place towards a plan position; where it runs along the border, up to 0.2 mm outside it count as on it. O(faces
/// crossed).
Ray castRay(const NavMesh& mesh, const Place& from, const Vec2& to, const Rules* rules = nullptr);
/// The same; adds the edges that are crossed to `crossed`.
Ray castRay(const NavMesh& mesh, const Place& from, const Vec2& to, const Rules* rules, std::vector<Crossing>* crossed);

/// Where a step from a place by `by` metres in plan ends: over the ground, and where it meets the border, what is left of it goes along the
/// border. Never leaves the mesh nor passes a border, however long it is. O(faces crossed).
Place stepBy(const NavMesh& mesh, const Place& from, const Vec2& by, const Rules* rules = nullptr);

/// An edge at which ground ends; the ground is on the left of a → b.
struct BorderEdge {
  Vec2 a, b;
};
/// The edges of the border within `reach` metres in plan of a place, found by going over the ground between. Replaces what is in `out`.
/// At most `most` faces are looked at. O(faces within reach).
void borderAround(const NavMesh& mesh, const Place& at, double reach, const Rules* rules, std::vector<BorderEdge>& out,
                  std::size_t most = 256);

}  // namespace dune::nav
