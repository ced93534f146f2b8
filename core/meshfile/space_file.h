#pragma once
// Our binary file of free space, .dsfly: what bodies that fly find their ways in, for loading fast. What a game links.
//
// Example:
//   auto space = meshfile::readSpace("yard.dsfly");
//   if (!space) say(space.problem().text());
//   flight::Searcher search(**space);

#include <string_view>

#include "core/flight/space.h"

namespace dune::meshfile {

/// Reads a .dsfly. Everything is checked before it is believed: kind, version, checksum, schema, and what the numbers say.
Result<std::shared_ptr<const flight::Space>> readSpace(const std::string& path);
Result<std::shared_ptr<const flight::Space>> spaceFromBytes(std::string_view bytes);
std::string spaceToBytes(const flight::Space& space);
/// Whether a file begins as a .dsfly does.
bool isSpaceFile(const std::string& path);

}  // namespace dune::meshfile
