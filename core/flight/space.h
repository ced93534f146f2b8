#pragma once
// Where a body can fly: the free space of a volume as cells, and which of them one gets to from which.
//
// 1. Exact: a place is free when nothing is nearer than the body allows, measured to the triangles. Cells only say where to look: what
//    the search finds is swept by the body before it is an answer.
// 2. What lies in closed solids is no free space; what lies in rooms is. What is lower or higher over ground than the body keeps is none.
// 3. The same bytes for any number of threads, and for a partial rebuild, which looks only at blocks near which something changed.
// 4. A built space is only read; many threads may ask at once.
//
// Not here: ground. What may be stood on is the business of the mesh.

#include <memory>
#include <span>
#include <string>
#include <vector>

#include "core/base/job.h"
#include "core/flight/air_costs.h"
#include "core/flight/cells.h"
#include "core/flight/chunk_work.h"
#include "core/flight/flyer.h"
#include "core/flight/height_walls.h"

namespace dune::flight {

/// What a space is made from, in metres.
struct SpaceInput {
  Flyer flyer;
  std::vector<Box3> boxes;           ///< where the middle of the body may be; at least one
  std::vector<Barrier> barriers;     ///< of the level, not stretched
  std::vector<std::string> names{};  ///< of objects
  std::vector<AirZone> zones{};      ///< what air costs; all of it one where none is
};

struct SpaceParts;

using NodeId = std::uint32_t;
constexpr NodeId kNoNode = ~NodeId{0};

class Space {
 public:
  /// O(surface / unit² · log triangles). What was found out for `before` where nothing
  /// changed is taken over. Refuses values that make no sense
  /// and a volume that needs more than the job's memory, before it is taken.
  static Result<std::shared_ptr<const Space>> make(SpaceInput input, Job& job, const Space* before = nullptr);

  const Flyer& flyer() const { return flyer_; }
  const std::vector<Box3>& boxes() const { return boxes_; }  ///< metres
  const std::vector<std::string>& names() const { return names_; }
  const std::string& nameOf(std::int64_t barrier) const;
  const Obstacles& obstacles() const { return obstacles_; }
  const Volume& volume() const { return volume_; }
  const AirCosts& airs() const { return airs_; }
  Measure measure() const { return {&obstacles_, &volume_, flyer_.radius, &airs_}; }
  Vec3 stretched(const Vec3& p) const { return flyer_.stretched(p); }
  Vec3 real(const Vec3& p) const { return flyer_.real(p); }
  /// The true length of a vector of the stretched space, metres.
  double length(const Vec3& v) const { return glm::length(flyer_.real(v)); }

  // The cells, by number. Places are of the stretched space.
  std::size_t size() const { return cells_.size(); }
  const Cell& cell(NodeId n) const { return cells_[n]; }
  Vec3 at(NodeId n) const;
  Box3 box(NodeId n) const;       ///< as far as it is within the volume
  Box3 wholeBox(NodeId n) const;  ///< of the cell itself
  std::span<const NodeId> next(NodeId n) const { return {&next_[start_[n]], &next_[start_[n]] + (start_[n + 1] - start_[n])}; }
  /// The number of the part of the space that hangs together, the largest first; those within solids have none (kNoNode).
  std::uint32_t part(NodeId n) const { return part_[n]; }
  std::size_t parts() const { return partSize_.size(); }
  /// Of the free cells of a part, cubic metres.
  double partSize(std::uint32_t part) const { return partSize_[part]; }
  double freeVolume() const;
  /// The cell that covers a place, whatever its kind; kNoNode where there is none.
  NodeId covering(const Vec3& p) const;
  /// The same; `chunk` is where the last one was found, and is kept.
  NodeId covering(const Vec3& p, std::ptrdiff_t& chunk) const;
  /// Cells whose boxes touch a box.
  std::vector<NodeId> touching(const Box3& box) const;

  /// Whether the body may be there: within the volume, nothing nearer than the radius, neither too low nor too high. Solids are told by
  /// the cells around.
  bool fits(const Vec3& p) const;
  /// Whether it is too low or too high there over what lies straight under it.
  HeightAt heightAt(const Vec3& p) const { return flight::heightAt(obstacles_, flyer_, p); }
  /// Why that forbids it, as a sentence about a body that is there; empty where it does not. Beside ground too, where a part of the body
  /// is over it.
  std::string whyNotSoHigh(const Vec3& p) const;

  /// Whether the body passes along ab. Within free cells nothing needs to be asked, so that only the rest is swept. `ofLevel`: heights do
  /// not matter, as where one takes off and lands.
  bool clear(const Vec3& a, const Vec3& b, Obstacles::Which which = Obstacles::Which::all) const;
  /// The same between two places in metres.
  bool passes(const Vec3& a, const Vec3& b, Obstacles::Which which = Obstacles::Which::all) const {
    return clear(stretched(a), stretched(b), which);
  }
  /// Straight up from a place that is too low the lowest one that is not; nothing where it is not too low, or something is in the way.
  std::optional<Vec3> overLow(const Vec3& p) const;
  /// Whether all of ab lies in free cells; false says nothing.
  bool open(const Vec3& a, const Vec3& b) const;

  std::size_t chunkCount() const { return chunks_.size(); }
  const ChunkAt& chunkAt(std::size_t chunk) const { return chunks_[chunk].at; }
  std::uint32_t chunkOf(NodeId n) const { return chunkOf_[n]; }
  /// Calls visit(chunk) for a chunk and those around it.
  template <class Visit>
  void eachAround(std::size_t chunk, Visit&& visit) const;
  /// Blocks (cells.h) near which something changed since the space before, of all; without one all.
  std::size_t renewed() const { return renewed_; }
  std::size_t blockCount() const { return chunks_.size() * kBlocks; }
  double seconds() const { return seconds_; }

 private:
  friend class SpaceMaker;
  friend SpaceParts takeApart(const Space& space);
  friend Result<std::shared_ptr<const Space>> putTogether(SpaceParts parts);
  struct Chunk {
    ChunkAt at;
    NodeId first = 0;
  };
  /// The free cell about a place, as far as it is within the volume; nothing where there is none.
  std::optional<Box3> freeAround(const Vec3& p, std::ptrdiff_t& chunk) const;
  std::ptrdiff_t findChunk(const ChunkAt& at) const;
  NodeId findIn(std::size_t chunk, const std::array<std::uint32_t, 3>& unit) const;
  /// Notes where cells lie in the order of their chunks, once they are all there but for joints.
  void noteOrder();

  Flyer flyer_;
  std::vector<Box3> boxes_;
  std::vector<std::string> names_;
  Obstacles obstacles_;
  Volume volume_;
  AirCosts airs_;
  std::vector<Chunk> chunks_;                     // ascending
  std::vector<ChunkWork> work_;                   // one a chunk; none where it was read from a file
  std::vector<Cell> cells_;                       // chunk by chunk, in each in Z order; joints after all
  std::vector<std::uint32_t> ordered_;            // one a chunk: how many of its cells are in Z order
  std::vector<std::uint16_t> order_;              // one a cell that is: its place in that
  std::vector<std::uint32_t> blocksOf_, blocks_;  // one a chunk of many cells: where in the second its blocks begin; their first cells
  std::vector<std::uint32_t> start_;
  std::vector<NodeId> next_;
  std::vector<std::uint32_t> part_;
  std::vector<double> partSize_;
  std::vector<std::uint32_t> chunkOf_;  // one a cell
  std::size_t renewed_ = 0;
  double seconds_ = 0;
};

template <class Visit>
void Space::eachAround(std::size_t chunk, Visit&& visit) const {
  const ChunkAt& at = chunks_[chunk].at;
  for (std::int32_t x = -1; x <= 1; ++x)
    for (std::int32_t y = -1; y <= 1; ++y)
      for (std::int32_t z = -1; z <= 1; ++z)
        if (const std::ptrdiff_t c = findChunk({at.x + x, at.y + y, at.z + z}); c >= 0) visit(static_cast<std::size_t>(c));
}

}  // namespace dune::flight
