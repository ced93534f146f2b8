#pragma once
// glTF files checked before a library believes them: chunks, buffers, views and accessors lie within what there is.

#include <optional>
#include <string>

#include "core/base/result.h"

namespace dune::import {

/// What is wrong with the chunks of a .glb, or with its JSON; nothing where it is not a .glb at all.
std::optional<Problem> checkGlb(const std::string& path, const std::string& bytes);

/// Of the JSON of a glTF: whether every buffer view lies in its buffer, and every accessor in its view; views may share bytes only as rows
/// of one table.
std::optional<Problem> checkGltf(const std::string& path, const std::string& json);

}  // namespace dune::import
