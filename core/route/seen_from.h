#pragma once
// What a search that spreads out saw of a face.

#include "core/nav/navmesh.h"

namespace dune::route {

/// Through the interval from right to left of one of its edges a face is seen from a root, to which the way costs `g`. All three are the
/// root where all of the face is seen.
struct SeenFrom {
  nav::FaceId face;
  Vec2 root, right, left;
  double g;
};

}  // namespace dune::route
