#pragma once
// Chunks: the squares of the plan that ground is made in, one at a time and each on its own.
//
// The grid of chunks lies fixed on the plan, whatever the level, so a level that grows does not move it. Sides are powers of two
// metres, so that every line between two chunks lies on the lattice.

#include <compare>
#include <cstdint>

#include "core/base/bounds.h"
#include "core/nav/agent.h"

namespace dune::ground {

struct ChunkId {
  std::int32_t row = 0, column = 0;
  auto operator<=>(const ChunkId&) const = default;
};

/// Side of the chunks for an agent, metres: wide enough that limits reach no farther than into the next chunk.
inline double chunkSize(const nav::Agent& agent) {
  constexpr double kLeastSize = 16, kRadii = 8;
  double size = kLeastSize;
  while (size < kRadii * agent.radius) size *= 2;
  return size;
}

inline Box2 chunkBox(ChunkId id, double size) {
  Box2 box;
  box.add(Vec2{id.column, id.row} * size);
  box.add(Vec2{id.column + 1, id.row + 1} * size);
  return box;
}

inline ChunkId chunkAt(const Vec2& q, double size) {
  return {static_cast<std::int32_t>(std::floor(q.y / size)), static_cast<std::int32_t>(std::floor(q.x / size))};
}

}  // namespace dune::ground
