#pragma once
// How far bodies are from walls.

#include "core/base/plan_grid.h"
#include "core/nav/navmesh.h"

namespace dune::review {

/// How far a place is from the nearest wall: the mesh border's distance plus the mesh's radius, metres, at most `most`. Only the border
/// at about the height of the place counts.
class WallDistance {
 public:
  explicit WallDistance(const nav::NavMesh& mesh);
  double at(const Vec3& p, double most = 10) const;

 private:
  struct Edge {
    Vec3 a, b;
  };
  std::vector<Edge> edges_;
  PlanGrid grid_;
  double radius_;
};

}  // namespace dune::review
