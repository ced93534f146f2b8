#pragma once
// A level file read by the import library. May crash, hang or take any amount of memory on broken files, and so runs in a process
// of its own (main.cpp).

#include <string>

#include "core/base/result.h"
#include "core/level/level.h"
#include "core/system/process.h"

namespace dune::import {

/// The file as it is: one object a named node with its transforms applied, neither scaled nor turned; polygons become triangles.
Result<level::Level> readScene(const std::string& path, const Progress& progress = {});

}  // namespace dune::import
