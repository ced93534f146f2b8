#pragma once
// Convex faces of one sheet while they are being improved.

#include <array>
#include <map>
#include <vector>

#include "core/base/lattice.h"
#include "core/base/vec.h"

namespace dune::generate {

using Loop = std::vector<std::uint32_t>;  ///< point numbers, turning left

struct Faces {
  std::vector<LatticePoint> points;
  std::vector<double> heights;      ///< one a point
  std::vector<Loop> loops;          ///< convex; empty where the face went
  std::vector<std::uint16_t> area;  ///< one a loop
  double flat = 0;                  ///< metres a corner may be off the plane of its face

  auto lattice() const {
    return [this](std::uint32_t v) { return points[v]; };
  }
  auto place() const {
    return [this](std::uint32_t v) { return lift(toPlan(points[v]), heights[v]); };
  }
  /// The smallest angle of a loop in plan, radians.
  double leastAngle(const Loop& loop) const;
  double angleAt(const Loop& loop, std::size_t corner) const;
};

constexpr std::uint32_t kNoLoop = 0xffffffffu;

/// The face on each side of each edge. Edges of loops that went may stay, so only edges of loops that are there may be asked for.
class Neighbours {
 public:
  void enter(const Faces& faces, std::uint32_t loop);
  /// The face that has the edge to → from.
  std::uint32_t across(std::uint32_t from, std::uint32_t to) const;

 private:
  std::map<std::array<std::uint32_t, 2>, std::uint32_t> at_;
};

}  // namespace dune::generate
