#pragma once
// Which way distances are measured.

#include <cstdint>

namespace dune::route {

enum class Heading : std::uint8_t {
  from,  ///< the place is where all begin
  to     ///< the place is where all go
};

}  // namespace dune::route
