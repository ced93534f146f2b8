#pragma once
// A mesh as some file has it: nothing is promised of it, but that faces name corners that there are.

#include <cstdint>
#include <string>
#include <vector>

#include "core/base/vec.h"

namespace dune::level {

struct RawMesh {
  std::vector<Vec3> corners;                      ///< metres, Y up
  std::vector<std::vector<std::uint32_t>> faces;  ///< corners in order, either way round
  std::vector<std::string> kinds{};               ///< names of kinds of ground, one a face; none where the file has none
  std::vector<std::string> tags{};                ///< as of a nav::NavMesh
  std::vector<std::uint8_t> tagged{};             ///< likewise
};

}  // namespace dune::level
