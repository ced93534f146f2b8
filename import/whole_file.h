#pragma once
// Whether a level file is all there. The import library takes some files that were cut short without a word.

#include <optional>
#include <string>

#include "core/base/result.h"

namespace dune::import {

/// What is missing, when the file (or a file that it names) ends early. Looks at .glb, .gltf and .obj; a text file that was cut
/// exactly between two faces cannot be told from a whole one.
std::optional<Problem> findMissing(const std::string& path);

}  // namespace dune::import
