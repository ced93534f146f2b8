#pragma once
// What was found out about a chunk of a space, kept so that a space made anew takes it over where nothing changed.

#include <memory>
#include <vector>

#include "core/flight/cells.h"

namespace dune::flight {

/// Whether one gets from one cell to another one that it touches.
struct Asked {
  std::uint32_t cell = 0;      ///< its place among those of its chunk
  std::uint8_t direction = 0;  ///< in which the other one lies (connect.h)
  bool tied = false;
  std::uint16_t bends = 0;  ///< of the way between them
  std::uint32_t firstBend = 0;
};

/// In the order of cells and directions.
struct Answers {
  std::vector<Asked> asked;
  std::vector<Vec3> bends;
};

struct ChunkWork {
  std::shared_ptr<const std::vector<Cell>> found;  ///< its cells before those along walls are woken or left out
  std::shared_ptr<const std::vector<Cell>> cells;  ///< and after
  std::uint64_t woken = 0;                         ///< a key of what woke them
  std::shared_ptr<const Answers> straight, bent;   ///< of cells that are not both free
};

}  // namespace dune::flight
