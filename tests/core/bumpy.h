#pragma once
// Meshes of ground that goes up and down by chance.

#include <array>
#include <set>

#include "core/base/lattice.h"
#include "tests/core/joined.h"
#include "tests/core/scenes.h"

namespace dune::test {

/// A square of n × n quads of two triangles, 2 m wide, corners moved by chance in plan and height.
inline nav::NavMesh bumpy(Random& random, int n, double high = 0.5) {
  nav::NavMesh mesh;
  mesh.kinds.push_back({});
  for (int z = 0; z <= n; ++z)
    for (int x = 0; x <= n; ++x) {
      const Vec2 at = toPlan(toLattice({2 * x + random.in(-0.5, 0.5), -(2 * z + random.in(-0.5, 0.5))}));
      mesh.vertices.push_back(lift(at, random.in(0, high)));
    }
  for (int z = 0; z < n; ++z)
    for (int x = 0; x < n; ++x) {
      const auto corner = [&](int dx, int dz) { return static_cast<std::uint32_t>((z + dz) * (n + 1) + x + dx); };
      for (const auto& t : {std::array{corner(0, 0), corner(0, 1), corner(1, 1)}, std::array{corner(0, 0), corner(1, 1), corner(1, 0)}}) {
        mesh.corners.insert(mesh.corners.end(), t.begin(), t.end());
        mesh.start.push_back(static_cast<std::uint32_t>(mesh.corners.size()));
        mesh.area.push_back(0);
      }
    }
  joinFaces(mesh);
  return mesh;
}

/// The same ground with both triangles of a quad as one face, which is not flat, where it is convex. Nothing else may have been changed.
inline nav::NavMesh quadsOf(const nav::NavMesh& bumpy) {
  nav::NavMesh mesh;
  mesh.kinds = bumpy.kinds, mesh.vertices = bumpy.vertices;
  const auto add = [&](std::initializer_list<std::uint32_t> corners) {
    mesh.corners.insert(mesh.corners.end(), corners);
    mesh.start.push_back(static_cast<std::uint32_t>(mesh.corners.size()));
    mesh.area.push_back(0);
  };
  for (std::uint32_t t = 0; t < bumpy.corners.size(); t += 6) {
    const std::array quad{bumpy.corners[t], bumpy.corners[t + 1], bumpy.corners[t + 2], bumpy.corners[t + 5]};
    const auto at = [&](std::size_t i) { return plan(mesh.vertices[quad[i % 4]]); };
    const double first = cross(at(2) - at(1), at(3) - at(2)), second = cross(at(0) - at(3), at(1) - at(0));
    if (first * second > 0 && std::abs(first) > 0.1 && std::abs(second) > 0.1)
      add({quad[0], quad[1], quad[2], quad[3]});
    else
      add({quad[0], quad[1], quad[2]}), add({quad[0], quad[2], quad[3]});
  }
  joinFaces(mesh);
  return mesh;
}

/// Walls without width along inner edges, none of which touch.
inline std::vector<std::pair<Vec2, Vec2>> cutSlits(Random& random, nav::NavMesh& mesh, int n, int wanted) {
  std::vector<std::pair<Vec2, Vec2>> walls;
  std::set<std::uint32_t> used;
  for (std::uint32_t v = 0; v < mesh.vertices.size(); ++v) {
    const auto x = static_cast<int>(v) % (n + 1), z = static_cast<int>(v) / (n + 1);
    if (x == 0 || z == 0 || x == n || z == n) used.insert(v);
  }
  for (int i = 0; i < wanted; ++i) {
    const auto f = static_cast<std::uint32_t>(random.upTo(static_cast<int>(mesh.faceCount())));
    const auto e = static_cast<std::uint32_t>(random.upTo(3));
    const std::uint32_t a = mesh.corners[f * 3 + e], b = mesh.corners[f * 3 + (e + 1) % 3];
    const nav::FaceId g = mesh.across[f * 3 + e];
    if (g == nav::kNoFace || used.contains(a) || used.contains(b)) continue;
    used.insert(a), used.insert(b);
    mesh.across[f * 3 + e] = nav::kNoFace;
    for (std::uint32_t k = 0; k < 3; ++k)
      if (mesh.across[index(g) * 3 + k] == nav::FaceId{f}) mesh.across[index(g) * 3 + k] = nav::kNoFace;
    walls.emplace_back(plan(mesh.vertices[a]), plan(mesh.vertices[b]));
  }
  return walls;
}

}  // namespace dune::test
