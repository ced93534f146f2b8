#pragma once
// A mesh made by others becomes one of ours: it keeps every promise of nav/navmesh.h, whatever the file was like.
//
// Corners go onto the lattice, and those that fall together become one. A corner that lies on a border of another face becomes a corner of
// that too, so that both share whole edges. Faces that are not convex are cut. What is no ground for us is left out and told: faces that
// look down, have no area seen from above, or cross themselves.

#include <optional>

#include "core/level/raw_mesh.h"
#include "core/nav/navmesh.h"

namespace dune::hand {

/// What is to be done about a fault of the file, each time that it is read.
struct Mend {
  enum class What : std::uint8_t {
    turn,   ///< a face that looks down has its corners the other way round
    close,  ///< borders no more than kSeam apart come together
    thin,   ///< faces narrower than kNeedle go, and their neighbours close up
    join,   ///< flat neighbours become one face where that is convex
  };
  What what;
  std::optional<Vec3> at{};  ///< at the face or border whose middle is there; nothing: everywhere
  bool operator==(const Mend&) const = default;
};
constexpr double kSeam = 0.06;    ///< metres
constexpr double kNeedle = 0.02;  ///< metres
/// "turn", "close", "thin", "join".
const char* mendName(Mend::What what);

struct LeftOut {
  enum class Why : std::uint8_t { looksDown, noArea, crossesItself };
  Why why;
  Vec3 at;      ///< its middle
  double area;  ///< m²
};

/// What became of a file on the way.
struct TakeNotes {
  std::vector<LeftOut> leftOut{};
  std::size_t cut = 0;       ///< faces that were not convex
  std::size_t inserted = 0;  ///< corners that became corners of a neighbour too
  std::size_t unused = 0;    ///< corners that no face has
};

struct Taken {
  nav::NavMesh mesh;
  TakeNotes notes;
};

/// A file whose faces mostly look down has them all the other way round, and is turned as a whole. Kinds of ground are found by name; the
/// first where there is none of it. O(n log n) in the corners.
Taken takeOver(const level::RawMesh& raw, const nav::Agent& agent, const std::vector<nav::Kind>& kinds,
               const std::vector<Mend>& mends = {});

}  // namespace dune::hand
