#pragma once
// What a table of recorded movement says, row by row: small, for ten million rows are a usual recording.

#include <array>
#include <cstdint>
#include <vector>

#include "core/trace/trace.h"

namespace dune::trace {

struct Row {
  static constexpr std::uint32_t kNoVelocity = 0xffffffffu;
  double t;
  int id;
  std::uint32_t line;
  Block::Place at;
  std::uint32_t velocity;  ///< its number among the velocities, or kNoVelocity
  State state;
};

struct TableRows {
  struct Velocities {
    std::array<float, 3> real, wanted;
  };
  std::vector<Row> rows;
  std::vector<Velocities> velocities;
  std::vector<Body> told;  ///< bodies of which a row says more than where they are
  bool derived = true;     ///< some row has no velocity
};

}  // namespace dune::trace
