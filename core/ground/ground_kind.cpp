#include "core/ground/ground_kind.h"

#include <algorithm>

namespace dune::ground {

namespace {

constexpr double kUnderMesh = 0.5;  // m: the surface is no farther over or under a face of the mesh

/// The ground that one is nearest to where there is none to stand on: the steep side of a step that one walks over.
std::optional<Surface> nearestGround(const Standing& standing, const Vec3& at, double reach) {
  std::vector<Surface> all;
  standing.surfaces(plan(at), all);
  std::optional<Surface> best;
  for (const Surface& s : all) {
    const double off = std::abs(s.y - at.y);
    if (off > reach || standing.soup().triangles()[s.triangle].role != level::Role::ground) continue;
    if (!best || off < std::abs(best->y - at.y)) best = s;
  }
  return best;
}

}  // namespace

KindAt kindAt(const Standing& standing, const Vec3& at) {
  const level::World& world = standing.world();
  if (const level::AreaVolume* volume = level::volumeAt(world, at))
    return {level::kindNumber(world, volume->kind), volume, Standing::kNothing};
  if (!standing.soup().hasKinds()) return {};
  const double reach = std::max(kUnderMesh, standing.agent().stepHeight);
  Standing::Stack stack;
  standing.stackAt(plan(at), {at.y - reach, at.y + reach}, stack);
  auto surface = standing.nearestSurface(stack, plan(at), at.y, reach);
  if (!surface) surface = nearestGround(standing, at, reach);
  if (!surface) return {};
  const std::uint16_t kind = standing.soup().triangles()[surface->triangle].kind;
  return kind == level::kNoKind ? KindAt{} : KindAt{kind - std::size_t{1}, nullptr, surface->triangle};
}

}  // namespace dune::ground
