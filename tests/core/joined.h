#pragma once
// Meshes that a test puts together from corners and faces.

#include <functional>
#include <map>

#include "core/nav/navmesh.h"

namespace dune::test {

/// Joins the faces of a mesh over edges that two of them share, but for those that are `wall`, by their corners.
inline void joinFaces(nav::NavMesh& mesh, const std::function<bool(std::uint32_t, std::uint32_t)>& wall = {}) {
  const auto eachEdge = [&](auto&& visit) {
    for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
      for (std::uint32_t i = mesh.start[f]; i < mesh.start[f + 1]; ++i)
        visit(f, mesh.corners[i], mesh.corners[i + 1 < mesh.start[f + 1] ? i + 1 : mesh.start[f]]);
  };
  std::map<std::pair<std::uint32_t, std::uint32_t>, nav::FaceId> faces;
  eachEdge([&](std::uint32_t f, std::uint32_t a, std::uint32_t b) { faces[{a, b}] = nav::FaceId{f}; });
  mesh.across.clear();
  eachEdge([&](std::uint32_t, std::uint32_t a, std::uint32_t b) {
    const auto over = faces.find({b, a});
    mesh.across.push_back(over == faces.end() || (wall && (wall(a, b) || wall(b, a))) ? nav::kNoFace : over->second);
  });
  nav::labelIslands(mesh);
}

}  // namespace dune::test
