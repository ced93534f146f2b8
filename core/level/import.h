#pragma once
// Reading level files made elsewhere: OBJ, glTF, GLB, PLY, STL, COLLADA, and height maps as PNG.

#include <memory>

#include "core/base/job.h"
#include "core/level/level.h"

namespace dune::level {

enum class UpAxis : std::uint8_t { y, z };

struct ImportOptions {
  UpAxis up = UpAxis::y;  ///< z turns (x, y, z) into (x, z, -y)
  double scale = 1;       ///< multiplies every coordinate, before the turn
  double spacing = 1;     ///< of a height map: metres a pixel
  double rise = 20;       ///< of a height map: metres from black to white
  bool operator==(const ImportOptions&) const = default;
};

/// Whether a file of this name is read as a height map.
bool isHeightMap(const std::string& path);

/// The level in the file, one object a named node with its transforms applied; polygons become triangles.
/// Refuses files without triangles, with numbers that are not finite, or with places beyond 60 km from the origin.
Result<std::shared_ptr<const Level>> importLevel(const std::string& path, const ImportOptions& options, Job& job);

}  // namespace dune::level
