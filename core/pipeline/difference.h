#pragma once
// The ground that one mesh has and another has not, storey by storey.

#include "core/nav/navmesh.h"

namespace dune::pipeline {

/// A convex piece of a face.
struct Patch {
  std::vector<Vec3> corners;  ///< counter-clockwise seen from above
  double area;                ///< in plan, m²
};

/// Patches that lie beside each other on one storey.
struct PatchGroup {
  std::vector<Patch> patches;  ///< the largest first
  double area = 0;             ///< of all of them, m²
  Vec3 at{};                   ///< the middle of the largest
};

/// The parts of the faces of `a` that no face of `b` covers within `reach` metres of height. Each face is clipped by the faces over it
/// (Sutherland & Hodgman 1974); pieces thinner than a few millimetres are rounding and left out. O(n log n) where few faces overlap.
std::vector<Patch> groundBeyond(const nav::NavMesh& a, const nav::NavMesh& b, double reach);

/// Patches that touch put together; groups by area, largest first. O(n log n) as a rule.
std::vector<PatchGroup> grouped(std::vector<Patch> patches);

}  // namespace dune::pipeline
