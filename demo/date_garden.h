#pragma once
// Date Garden: a made-up garden with hedges and channels, drawn as a tile map of 40 × 26 tiles of a metre.

#include <string>

#include "core/project/project.h"

namespace dune::demo {

/// The map and the set of tiles that it names.
std::string gardenMap();
std::string gardenTiles();
project::Project gardenProject();

constexpr const char* kGardenMapFile = "date-garden.tmx";
constexpr const char* kGardenTilesFile = "date-garden.tsx";

}  // namespace dune::demo
