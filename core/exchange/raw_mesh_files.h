#pragma once
// Meshes from elsewhere as they are, to be judged: polygons of OBJ files.

#include <string_view>

#include "core/base/result.h"
#include "core/review/raw_mesh.h"

namespace dune::exchange {

/// The faces of an OBJ with all their corners, of all its groups. Fails on text without faces, on numbers that are none and on faces that
/// name corners that are not there, naming the line. O(text).
Result<review::RawMesh> rawFromObj(std::string_view text);

}  // namespace dune::exchange
