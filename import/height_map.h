#pragma once
// Terrain from a grey PNG image: 8 or 16 bits a pixel, black low and white high.

#include "core/base/result.h"
#include "core/level/level.h"
#include "core/system/process.h"

namespace dune::import {

/// One object named after the file, with a vertex a pixel: x and z count pixels, y goes from 0 (black) to 1 (white).
Result<level::Level> readHeightMap(const std::string& path, const Progress& progress = {});

}  // namespace dune::import
