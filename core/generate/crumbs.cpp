#include "core/generate/crumbs.h"

#include <algorithm>

#include "core/generate/islands.h"
#include "core/generate/join.h"

namespace dune::generate {

namespace {

constexpr double kCrumb = 1e-4;   // m²
constexpr double kSmall = 1e-2;   // m²: as small as that, and as thin as below, is a crumb too
constexpr double kThread = 5e-3;  // m

bool isCrumb(const IslandExtent& island) { return island.area < kCrumb || (island.area < kSmall && island.width() < kThread); }

/// Faces smaller than a crumb that hang on one other only: tips that strips of steps leave at corners. Nothing leads through them.
nav::NavMesh withoutTips(nav::NavMesh mesh) {
  std::vector<char> keep(mesh.faceCount(), 1);
  std::vector<std::uint32_t> neighbours(mesh.faceCount(), 0), queue;
  const auto isTip = [&](std::uint32_t f) { return keep[f] && neighbours[f] == 1 && nav::faceArea(mesh, nav::FaceId{f}) < kCrumb; };
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    for (const nav::FaceId g : mesh.acrossOf(nav::FaceId{f})) neighbours[f] += g != nav::kNoFace;
    if (isTip(f)) queue.push_back(f);
  }
  if (queue.empty()) return mesh;
  for (std::size_t head = 0; head < queue.size(); ++head) {
    const std::uint32_t f = queue[head];
    if (!isTip(f)) continue;  // the other one of two went before
    keep[f] = 0;
    for (const nav::FaceId g : mesh.acrossOf(nav::FaceId{f}))
      if (g != nav::kNoFace && keep[nav::index(g)] && --neighbours[nav::index(g)] == 1) queue.push_back(nav::index(g));
  }
  return keepFaces(mesh, keep);
}

}  // namespace

nav::NavMesh withoutCrumbs(nav::NavMesh mesh) {
  mesh = withoutTips(std::move(mesh));
  const std::vector<IslandExtent> islands = islandExtents(mesh);
  if (std::ranges::none_of(islands, isCrumb)) return mesh;
  std::vector<char> keep(mesh.faceCount());
  for (std::size_t f = 0; f < keep.size(); ++f) keep[f] = !isCrumb(islands[mesh.island[f]]);
  return keepFaces(mesh, keep);
}

}  // namespace dune::generate
