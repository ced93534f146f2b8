#include "bench/wide_ground.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/base/lattice.h"

namespace dune::bench {

namespace {

constexpr double kQuad = 2.35;  // metres

class Chance {
 public:
  explicit Chance(std::uint64_t seed) : state_(seed * 2654435761u + 1) {}
  double in(double low, double high) {
    state_ = state_ * 6364136223846793005ull + 1442695040888963407ull;
    return low + (high - low) * static_cast<double>(state_ >> 11) / 9007199254740992.0;
  }

 private:
  std::uint64_t state_;
};

std::vector<char> holes(int side, Chance& chance) {
  std::vector<char> gone(static_cast<std::size_t>(side) * static_cast<std::size_t>(side), 0);
  for (int i = 0; i < side * side / 180; ++i) {
    const int x = static_cast<int>(chance.in(1, side - 8)), z = static_cast<int>(chance.in(1, side - 8)),
              w = static_cast<int>(chance.in(1, 7)), d = static_cast<int>(chance.in(2, 6));
    for (int k = 0; k < w * d; ++k)
      if (chance.in(0, 1) < 0.9) gone[static_cast<std::size_t>((z + k / w) * side + x + k % w)] = 1;
  }
  return gone;
}

/// Pairs up the edges of faces that are complete otherwise.
void join(nav::NavMesh& mesh) {
  std::unordered_map<std::uint64_t, std::uint32_t> open;
  mesh.across.assign(mesh.corners.size(), nav::kNoFace);
  for (std::uint32_t f = 0; f < mesh.faceCount(); ++f)
    for (std::uint32_t c = mesh.start[f]; c < mesh.start[f + 1]; ++c) {
      const std::uint64_t a = mesh.corners[c], b = mesh.corners[c + 1 == mesh.start[f + 1] ? mesh.start[f] : c + 1];
      const auto other = open.find(b << 32 | a);
      if (other == open.end()) {
        open.emplace(a << 32 | b, c);
        continue;
      }
      mesh.across[c] =
          nav::FaceId{static_cast<std::uint32_t>(std::ranges::upper_bound(mesh.start, other->second) - mesh.start.begin() - 1)};
      mesh.across[other->second] = nav::FaceId{f};
    }
}

}  // namespace

nav::NavMesh wideGround(int side, std::uint64_t seed) {
  Chance chance(seed);
  const std::vector<char> gone = holes(side, chance);
  nav::NavMesh mesh;
  mesh.kinds.push_back({});
  for (int z = 0; z <= side; ++z)
    for (int x = 0; x <= side; ++x) {
      const double px = (x + chance.in(-0.2, 0.2)) * kQuad, pz = (z + chance.in(-0.2, 0.2)) * kQuad;
      const Vec2 at = toPlan(toLattice({px, -pz}));
      mesh.vertices.push_back(lift(at, roundHeight(6 * std::sin(px / 37) * std::cos(pz / 53) + 0.8 * std::sin(px / 5 + pz / 7))));
    }
  for (int z = 0; z < side; ++z)
    for (int x = 0; x < side; ++x) {
      if (gone[static_cast<std::size_t>(z * side + x)]) continue;
      const auto corner = [&](int dx, int dz) { return static_cast<std::uint32_t>((z + dz) * (side + 1) + x + dx); };
      for (const auto& t : {std::array{corner(0, 0), corner(0, 1), corner(1, 1)}, std::array{corner(0, 0), corner(1, 1), corner(1, 0)}}) {
        mesh.corners.insert(mesh.corners.end(), t.begin(), t.end());
        mesh.start.push_back(static_cast<std::uint32_t>(mesh.corners.size()));
        mesh.area.push_back(0);
      }
    }
  join(mesh);
  nav::labelIslands(mesh);
  return mesh;
}

}  // namespace dune::bench
