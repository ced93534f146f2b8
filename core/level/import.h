#pragma once
// Reading level files made elsewhere: OBJ, glTF, GLB, PLY, STL, COLLADA, height maps as PNG, and tile maps.

#include <memory>

#include "core/base/job.h"
#include "core/level/level.h"

namespace dune::level {

enum class UpAxis : std::uint8_t { y, z };

struct ImportOptions {
  UpAxis up = UpAxis::y;        ///< z turns (x, y, z) into (x, z, -y)
  double scale = 1;             ///< multiplies every coordinate, before the turn
  double spacing = 1;           ///< of a height map or a tile map: metres a pixel
  double rise = 20;             ///< of a height map: metres from black to white; of a tile map: how high what is solid stands, metres
  std::string solid = "solid";  ///< of a tile map: the yes-or-no property that says what stands in the way
  bool pieces = false;          ///< objects are split into what hangs together, see inPieces()
  bool operator==(const ImportOptions&) const = default;
};

/// Where a place of a file lies, of one that is no map: in metres with Y up.
inline Vec3 placed(const Vec3& p, const ImportOptions& options) {
  const Vec3 at = p * options.scale;
  return options.up == UpAxis::z ? Vec3{at.x, at.z, -at.y} : at;
}
constexpr double kFarthest = 60000;  ///< metres from the origin; beyond it the plan lattice would overflow

/// Whether a file of this name is read as a height map.
bool isHeightMap(const std::string& path);
/// Whether a file of this name is read as a tile map: .tmx, or the same as JSON (.tmj, .json).
bool isTileMap(const std::string& path);
/// What a file of this name is read with when nothing is said: a tile map has 32 pixels a metre.
ImportOptions importFor(const std::string& path);

/// The level in the file, one object a named node with its transforms applied; polygons become triangles.
/// Refuses files without triangles, with numbers that are not finite, or with places beyond 60 km from the origin.
/// The file may be one of several: how far it is is told as the part of the job's present step from `from` to `until`.
Result<std::shared_ptr<const Level>> importLevel(const std::string& path, const ImportOptions& options, Job& job, double from = 0,
                                                 double until = 1);

}  // namespace dune::level
