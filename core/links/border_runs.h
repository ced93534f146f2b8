#pragma once
// The border of a mesh as straight runs: what one can step or jump off.

#include <vector>

#include "core/nav/navmesh.h"

namespace dune::links {

/// A place of the border to try a way from.
struct BrinkPlace {
  nav::Place at;
  Vec2 out{};             ///< straight out over the border, of length 1
  double edgeBefore = 0;  ///< how far out the ground itself goes on, metres: a radius, or more where the way out is slanting
};

/// Edges of the border, one after the other, that go the same way but for a few degrees. The ground is on their left.
struct BorderRun {
  std::vector<BrinkPlace> places;  ///< along it, ascending, at most a spacing apart
  bool corner = false;             ///< not a run but the corner between two, places in the directions between theirs
};

/// Of the whole border, and its corners that stick out. The same for the same mesh. O(corners + places).
std::vector<BorderRun> borderRuns(const nav::NavMesh& mesh, double spacing);

/// Which way is out over an edge of the border: of length 1.
inline Vec2 outOver(const Vec2& a, const Vec2& b) { return -leftOf(b - a) / glm::distance(a, b); }

}  // namespace dune::links
