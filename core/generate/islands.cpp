#include "core/generate/islands.h"

#include <algorithm>

#include "core/generate/join.h"
#include "core/nav/locator.h"

namespace dune::generate {

std::vector<IslandExtent> islandExtents(const nav::NavMesh& mesh) {
  std::vector<IslandExtent> islands(nav::countIslands(mesh));
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f) {
    const nav::FaceId face{f};
    IslandExtent& island = islands[mesh.island[f]];
    island.area += nav::faceArea(mesh, face);
    const std::size_t n = mesh.cornerCount(face);
    for (std::size_t i = 0; i < n; ++i)
      if (mesh.acrossOf(face)[i] == nav::kNoFace)
        island.border += glm::distance(plan(mesh.cornerAt(face, i)), plan(mesh.cornerAt(face, (i + 1) % n)));
  }
  return islands;
}

namespace {
/// Marks the islands that links lead to from those that are marked.
void goOverLinks(const nav::NavMesh& mesh, std::vector<char>& marked) {
  const auto pass = [&](nav::FaceId from, nav::FaceId to) {
    char& there = marked[mesh.island[index(to)]];
    const bool grows = marked[mesh.island[index(from)]] && !there;
    if (grows) there = 1;
    return grows;
  };
  for (bool grows = true; grows;) {
    grows = false;
    for (const nav::Link& l : mesh.links) {
      if (pass(l.fromFace, l.toFace)) grows = true;
      if (!l.oneWay && pass(l.toFace, l.fromFace)) grows = true;
    }
  }
}
}  // namespace

nav::NavMesh keepIslands(nav::NavMesh mesh, const level::World& world, const level::LeastIsland& least, double reach) {
  if (mesh.faceCount() == 0 || (world.seeds.empty() && !least.any())) return mesh;
  const nav::Locator locator(mesh);
  std::vector<IslandExtent> extents = islandExtents(mesh);
  const auto near = [&](const std::vector<Vec3>& places) {
    std::vector<char> islands(extents.size(), 0);
    for (const Vec3& p : places)
      if (const nav::Place at = locator.nearest(p, reach); at.valid()) islands[mesh.island[nav::index(at.face)]] = 1;
    return islands;
  };
  std::vector<char> seeded = near(world.seeds);
  const std::vector<char> used = near(world.used);
  goOverLinks(mesh, seeded);
  std::vector<char> keep(mesh.faceCount());
  for (std::size_t f = 0; f < keep.size(); ++f) {
    const std::uint32_t i = mesh.island[f];
    const bool large = extents[i].area >= least.area && extents[i].width() >= least.width;
    keep[f] = seeded[i] || (world.seeds.empty() && (large || used[i]));
  }
  return std::ranges::all_of(keep, [](char k) { return k != 0; }) ? mesh : keepFaces(mesh, keep);
}

}  // namespace dune::generate
