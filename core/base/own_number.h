#pragma once
// Small lasting differences between bodies, so that what is alike does not stay so.

#include <cstdint>

namespace dune {

/// A number from 0 to 1 that is a body's own.
inline double ownNumber(int id) {
  auto h = static_cast<std::uint64_t>(static_cast<std::uint32_t>(id)) * 0x9E3779B97F4A7C15ull;
  h ^= h >> 31;
  return static_cast<double>(h * 0xBF58476D1CE4E5B9ull >> 11) / 9007199254740992.0;
}

}  // namespace dune
