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

nav::NavMesh keepIslands(nav::NavMesh mesh, const level::World& world, double reach) {
  const bool seeded = !world.seeds.empty(), sized = world.leastIsland.any();
  if (mesh.faceCount() == 0 || (!seeded && !sized)) return mesh;
  const nav::Locator locator(mesh);
  std::vector<char> seed(nav::countIslands(mesh), 0), used(seed.size(), 0);
  const auto mark = [&](const std::vector<Vec3>& places, std::vector<char>& islands) {
    for (const Vec3& p : places)
      if (const nav::Place at = locator.nearest(p, reach); at.valid()) islands[mesh.island[nav::index(at.face)]] = 1;
  };
  mark(world.seeds, seed);
  mark(world.seeds, used), mark(world.used, used);
  const std::vector<IslandExtent> extents = islandExtents(mesh);
  std::vector<char> stays(seed.size());
  for (std::size_t i = 0; i < stays.size(); ++i) {
    const bool large = extents[i].area >= world.leastIsland.area && extents[i].width() >= world.leastIsland.width;
    stays[i] = (!seeded || seed[i]) && (large || used[i]);
  }
  if (std::ranges::all_of(stays, [](char s) { return s != 0; })) return mesh;
  std::vector<char> keep(mesh.faceCount());
  for (std::size_t f = 0; f < keep.size(); ++f) keep[f] = stays[mesh.island[f]];
  return keepFaces(mesh, keep);
}

}  // namespace dune::generate
