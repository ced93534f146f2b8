#pragma once
// What is wrong with the faces of a mesh from anywhere, whatever it was made for: faces that look down, needles, faces that are not convex,
// faces over each other on one storey, seams that are open by a hair, corners that no face uses, faces that could be one.

#include "core/review/findings.h"
#include "core/review/raw_mesh.h"

namespace dune::review {

struct ShapeLimits {
  double needle = 0.02;   ///< metres that a face must be wide
  double overlap = 0.01;  ///< m² that two faces may lie over each other
  double storey = 0.5;    ///< metres in height between faces that lie over each other rightly
  double seam = 0.05;     ///< metres between borders that were meant to meet; 0: all that are apart are meant so
  std::size_t most = 30;  ///< findings of each kind
};
/// Of a mesh that was built here: slits in it are those of the level, and needles are told together.
constexpr ShapeLimits kOurShape{0.02, 0.01, 0.5, 0, 1};

/// Of each kind the worst one by one, and the rest together. O(n log n) in the corners, and the pairs of faces whose
/// boxes meet.
std::vector<Finding> reviewShape(const RawMesh& mesh, const ShapeLimits& limits = {});

}  // namespace dune::review
