#pragma once
// Barchan Field: crescent dunes as a height map, a wide level for terrain.

#include "core/project/project.h"

namespace dune::demo {

/// A grey PNG of 16 bits a pixel.
std::string barchanImage();
/// The project over "barchan-field.png" beside it.
project::Project barchanProject();

}  // namespace dune::demo
