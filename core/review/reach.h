#pragma once
// Which ground an agent can come to, and which it can leave again, over ground and links and by its rules.

#include <vector>

#include "core/nav/pieces.h"
#include "core/nav/rules.h"

namespace dune::review {

/// Ground that hangs together without links.
struct Piece {
  double area = 0;             ///< m²
  Vec3 at{};                   ///< in the middle of its largest face
  std::uint32_t together = 0;  ///< pieces of one number are joined by links, whichever way these go
  bool reached = false;        ///< one can come to it from the main ground
  bool left = false;           ///< one can go from it to the main ground
};

/// The main ground is the largest one within which one can go from anywhere to anywhere.
struct Reach {
  std::vector<Piece> pieces;
  std::vector<std::uint32_t> pieceOf;  ///< one a face; nav::kNoPiece where the agent may not walk
  std::uint32_t main = 0;              ///< what is together with the main ground
  bool isMain(const Piece& p) const { return p.reached && p.left; }
};

/// O(faces + links). Strongly connected components of pieces and links (Tarjan 1972).
Reach reachOf(const nav::NavMesh& mesh, const nav::Rules& rules);

}  // namespace dune::review
