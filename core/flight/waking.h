#pragma once
// Cells along walls near narrow places become places to stand, so that what is narrow is joined to what is open.

#include <cstdint>
#include <memory>
#include <span>
#include <vector>

#include "core/flight/space.h"

namespace dune::flight {

class Waker {
 public:
  /// Of the chunks of a space, whose cells were found. Keeps references to all.
  Waker(const Space& space, std::span<const ChunkWork> work);

  /// Of the narrow places in and around a chunk that wake cells of it: a key that is the same for the same ones.
  std::uint64_t keyOf(std::size_t chunk) const;
  /// The cells of a chunk without those along walls that sleep on.
  std::vector<Cell> woken(std::size_t chunk) const;

 private:
  template <class Visit>
  void eachNarrow(std::size_t chunk, Visit&& visit) const;
  void wakeUp(const Cell& cell, const ChunkAt& at, const std::vector<char>& awake, std::vector<Cell>& cells) const;
  bool stand(Cell& cell, const ChunkAt& at) const;

  const Space& space_;
  Measure m_;
  std::span<const ChunkWork> work_;
  std::vector<std::vector<Cell>> narrow_;  // one a chunk
};

}  // namespace dune::flight
