#pragma once
// While a mesh is made, a face's kind of ground and its tags are one number, so that all that keeps kinds apart keeps tags apart.

#include <cstdint>

#include "core/level/world.h"
#include "core/nav/navmesh.h"

namespace dune::generate {

/// Kinds of ground that a world with tags may have.
constexpr std::size_t kMostKindsWithTags = 256;

constexpr std::uint16_t labelOf(std::size_t kind, std::uint8_t tags) {
  return tags == 0 ? static_cast<std::uint16_t>(kind) : static_cast<std::uint16_t>(kind | std::size_t{tags} << 8);
}

/// What a mesh has as kinds becomes kinds and tags. Labels from before kinds or tags went, of chunks that were left as they were, lose what
/// they do not have any more.
void resolveLabels(nav::NavMesh& mesh, const std::vector<std::string>& tags);

}  // namespace dune::generate
