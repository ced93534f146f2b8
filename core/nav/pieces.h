#pragma once
// Faces that hang together.

#include <cstdint>
#include <vector>

#include "core/nav/navmesh.h"

namespace dune::nav {

constexpr std::uint32_t kNoPiece = 0xffffffffu;

struct Pieces {
  std::vector<std::uint32_t> of;  ///< one a face: its number; kNoPiece for those that belong to none
  std::uint32_t count = 0;
};

/// Numbers the pieces of the faces that belong to any, in the order of their first faces. Two that touch are of one piece where `joins`
/// says so of them. O(corners).
template <class Belongs, class Joins>
Pieces piecesOf(const NavMesh& mesh, Belongs&& belongs, Joins&& joins) {
  Pieces pieces{std::vector<std::uint32_t>(mesh.faceCount(), kNoPiece)};
  auto& [piece, count] = pieces;
  std::vector<FaceId> open;
  for (std::uint32_t first = 0; first < mesh.faceCount(); ++first) {
    if (piece[first] != kNoPiece || !belongs(FaceId{first})) continue;
    piece[first] = count;
    open.assign(1, FaceId{first});
    while (!open.empty()) {
      const FaceId f = open.back();
      open.pop_back();
      for (const FaceId g : mesh.acrossOf(f)) {
        if (g == kNoFace || piece[index(g)] != kNoPiece || !belongs(g) || !joins(f, g)) continue;
        piece[index(g)] = count, open.push_back(g);
      }
    }
    ++count;
  }
  return pieces;
}

/// All that touch and belong are of one piece.
template <class Belongs>
Pieces piecesOf(const NavMesh& mesh, Belongs&& belongs) {
  return piecesOf(mesh, belongs, [](FaceId, FaceId) { return true; });
}

}  // namespace dune::nav
