#pragma once
// Faces of a mesh from elsewhere while they are being put in order: corners by number, and nothing else that could be wrong.

#include <optional>
#include <utility>
#include <vector>

#include "core/base/vec.h"

namespace dune::hand {

struct LooseMesh {
  using Loop = std::vector<std::uint32_t>;
  struct Face {
    Loop loop;               ///< counter-clockwise from above; empty once it is gone
    std::uint16_t area = 0;  ///< kind of ground and tags, as generate::labelOf()
  };
  /// A side of a face, after its corner `side`, that no other face has.
  struct Border {
    std::size_t face, side;
  };

  std::vector<Vec3> corners;  ///< on the lattice
  std::vector<Face> faces;

  std::vector<Vec3> outlineOf(const Loop& loop) const;
  std::uint32_t corner(std::size_t face, std::size_t side) const {
    const Loop& loop = faces[face].loop;
    return loop[side % loop.size()];
  }
  /// In the order of the faces. O(n log n).
  std::vector<Border> borders() const;
  /// The faces that have each corner. O(n).
  std::vector<std::vector<std::size_t>> facesOfCorners() const;
  /// How wide a face is: its area over half of its longest side, m.
  double widthOf(const Loop& loop) const;
};

/// One number for the way from one corner to another.
inline std::uint64_t sideKey(std::uint32_t from, std::uint32_t to) { return std::uint64_t{from} << 32 | to; }
/// Without corners that repeat the one before them.
LooseMesh::Loop tidy(const LooseMesh::Loop& loop);
/// How far along a side a place lies in plan, 0 at its begin and 1 at its end, and how far off it, m.
struct Along {
  double part, off;
};
Along along(const Vec3& a, const Vec3& b, const Vec3& p);

/// Where something is to be done: everywhere, or near some places.
struct Where {
  bool everywhere = false;
  std::vector<Vec3> at{};
  bool any() const { return everywhere || !at.empty(); }
  bool near(const Vec3& p, double within) const;
  /// Likewise, of a side.
  bool near(const Vec3& a, const Vec3& b, double within) const;
};

/// Corners of borders that lie on another border, within what the lattice rounds, become corners of that face too. How many did.
std::size_t meetOnBorders(LooseMesh& mesh);
/// Corners of borders no more than kSeam apart become one, and those as near to another border come to lie on it, where no face turns over
/// for it. O(n log n).
void closeSeams(LooseMesh& mesh, const Where& where);
/// Convex faces narrower than kNeedle go: one of their corners comes to another one, or to the side across, where the faces around it get
/// no narrower and stay convex, but for what the lattice rounds: they are to be cut again. O(n) a sweep, few sweeps.
void thinOut(LooseMesh& mesh, const Where& where);

/// Corners that only parted a straight side, on both sides of it, go. Whether any did. O(n).
bool dropStraight(LooseMesh& mesh);

}  // namespace dune::hand
