#pragma once
// Ground cut out of a mesh for a while, without building it again: faces are split along an outline, and what lies within is of a kind of
// its own.
//
// Each face that an outline crosses falls into convex pieces along the lines of the outline's sides (Sutherland & Hodgman 1974, both
// halves kept); neighbours get the corners that a cut puts on their edges, so that faces share whole edges still.

#include "core/base/plan_geometry.h"
#include "core/nav/navmesh.h"

namespace dune::nav {

struct Cut {
  Polygon outline;           ///< convex, counter-clockwise, in plan
  double low = 0, high = 0;  ///< only ground between these heights is cut
};

struct CutMesh {
  NavMesh mesh;
  std::vector<FaceId> from;  ///< one a face: which face of the whole mesh it is, or is a piece of
};
/// A mesh in which the ground within the outlines is of a new, last kind, "cut out". Corners that cuts put in lie on the faces that were
/// there, not on the lattice. Links, islands and all other ground stay as they were. O(faces of the mesh), of which only those near a cut
/// take more than a copy.
CutMesh cutOut(const NavMesh& mesh, std::span<const Cut> cuts);

}  // namespace dune::nav
