#pragma once
// A space taken apart for a file, and put together again.

#include "core/flight/space.h"

namespace dune::flight {

/// All that a space is, as plain arrays.
struct SpaceParts {
  Flyer flyer;
  std::vector<Box3> boxes;                ///< metres
  std::vector<std::string> names;         ///< of objects
  std::vector<Barrier> barriers;          ///< stretched
  std::vector<ChunkAt> chunks;            ///< ascending
  std::vector<std::uint32_t> cellsOf;     ///< one a chunk: how many cells in Z order
  std::vector<Cell> cells;                ///< chunk by chunk, then joints
  std::vector<std::uint32_t> jointChunk;  ///< one a joint
  std::vector<std::uint32_t> start;
  std::vector<NodeId> next;
  std::vector<std::uint32_t> part;  ///< one a cell, kNoNode: within a solid
  std::vector<double> partSize;     ///< cubic metres
  std::vector<AirZone> zones{};
};

SpaceParts takeApart(const Space& space);
/// Refuses numbers that cannot be, saying which; what is accepted never leads out of an array.
Result<std::shared_ptr<const Space>> putTogether(SpaceParts parts);

}  // namespace dune::flight
