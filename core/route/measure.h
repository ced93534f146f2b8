#pragma once
// How the length of a way is measured.

#include <cstdint>

namespace dune::route {

enum class Measure : std::uint8_t {
  plan,  ///< seen from above: who walks at a speed in plan is the quickest by the shortest of these
  space  ///< along the ground
};

}  // namespace dune::route
