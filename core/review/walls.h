#pragma once
// How far bodies are from walls.

#include "core/nav/border.h"

namespace dune::review {

/// How far a place is from the nearest wall: the mesh border's distance plus the mesh's radius, metres, at most `most`. Only the border
/// at about the height of the place counts.
class WallDistance {
 public:
  explicit WallDistance(const nav::NavMesh& mesh) : border_(mesh), radius_(mesh.agent.radius) {}
  double at(const Vec3& p, double most = 10) const;

 private:
  nav::Border border_;
  double radius_;
};

}  // namespace dune::review
