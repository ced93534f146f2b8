#pragma once
// The free space of a chunk as cells: where a body fits everywhere, where it fits somewhere, and along walls.
//
// The middle of the body is a point and everything else is grown by the radius. A cell is halved on every side until one of these holds:
// *free*, the nearest thing is farther than radius and half diagonal together · *blocked*, even its middle's nearest thing forbids all of
// it · *beside* a wall, where every place of it leads straight out to open space, so that nothing of what is connected is lost without it ·
// *narrow*, as small as cells get, with a place at which the body stands, found by pushing it away from what is too near.
//
// Distances are convex (triangle_distance.h), which is what makes the third one certain: whoever moves away from a triangle goes on to.
// That is how gaps are measured where they decide and nowhere else: open ground needs no small cells, a gap of 1.05 bodies has its own.
// Where air costs differ no large cell lies on both sides.

#include <bitset>
#include <cstdint>
#include <vector>

#include "core/flight/air_costs.h"
#include "core/flight/obstacles.h"
#include "core/flight/tuning.h"
#include "core/flight/volume.h"

namespace dune::flight {

struct ChunkAt {
  std::int32_t x = 0, y = 0, z = 0;
  auto operator<=>(const ChunkAt&) const = default;
};

/// A cell of a chunk, by its lowest corner in units of the chunk and its level: it is 2^level units wide.
struct Cell {
  enum class Kind : std::uint8_t { free, narrow, beside, joint };
  std::uint8_t x = 0, y = 0, z = 0;
  std::uint8_t level = 0;
  Kind kind = Kind::free;
  float clearance = 0;        ///< at `at`, stretched metres
  std::array<float, 3> at{};  ///< where the body stands, from the chunk's lowest corner
  void standAt(const Vec3& fromCorner) {
    for (std::size_t i = 0; i < 3; ++i) at[i] = static_cast<float>(fromCorner[static_cast<int>(i)]);
  }
  bool operator==(const Cell&) const = default;
};

/// What cells are measured with.
struct Measure {
  const Obstacles* obstacles;
  const Volume* volume;
  double radius;
  const AirCosts* airs = nullptr;  ///< whose zones' sides large cells do not cross; none: there are none

  double unit() const;
  double swept() const;  ///< of the radius, what sweeps keep: rounding never forbids what just fits
  double chunkSize() const;
  Vec3 corner(const ChunkAt& chunk) const;
  /// The box of a cell, within the volume or not.
  Box3 wholeBox(const ChunkAt& chunk, const Cell& cell) const;
  /// The box of a cell, as far as it is within the volume; empty where none of it is. `whole`: see Volume::clip.
  Box3 box(const ChunkAt& chunk, const Cell& cell, bool& whole) const;
  Box3 box(const ChunkAt& chunk, const Cell& cell) const;
  /// Whether the body passes along ab and stays within.
  bool clear(const Vec3& a, const Vec3& b) const;
  /// A place near `p` and within the box at which nothing is nearer than the radius; nothing where none was found. Half-spaces of what is
  /// too near are satisfied one after the other, over and over (Agmon, "The relaxation method for linear inequalities", 1954); as
  /// distances are convex each of them is a lower bound, so what satisfies them fits.
  bool push(Vec3& p, const Box3& within) const { return push(p, within, radius); }
  /// The same, nothing nearer than `room`; given up once half-spaces did not go together so many times.
  bool push(Vec3& p, const Box3& within, double room, int patience = 4) const;
  /// Moves a place that fits towards the middle of the gap that it is in.
  void centre(Vec3& p, const Box3& within) const;
};

/// Cells are taken over from before by blocks of so many units along a side, of which a chunk has so many.
constexpr int kBlockLevel = 3;
constexpr std::size_t kBlocks = std::size_t{1} << 3 * (tuning::kLevels - kBlockLevel);

/// The cells of a chunk before something changed.
struct CellsBefore {
  const std::vector<Cell>& cells;
  std::bitset<kBlocks> touched;  ///< one a block, in Z order: whether something changed that its cells may ask about
};

/// The cells of a chunk that are free, narrow or beside a wall, in Z order (Morton 1966). A pure function of what lies within a chunk's
/// size.
std::vector<Cell> findCells(const ChunkAt& chunk, const Measure& measure, const CellsBefore* before = nullptr);

/// A cell beside a wall in cells of its own, of which those beside a wall are at most two units wide.
std::vector<Cell> divideCell(const ChunkAt& chunk, const Cell& cell, const Measure& measure);

/// All of a chunk.
Cell chunkCell();
/// The blocks of a chunk in Z order.
Cell blockCell(std::size_t block);

/// The position of a unit along the Z order of its chunk.
std::uint32_t zOrder(std::uint32_t x, std::uint32_t y, std::uint32_t z);

}  // namespace dune::flight
