#pragma once
// Whole files, read and written safely.

#include <string>
#include <string_view>

#include "core/base/result.h"

namespace dune {

/// The content of a file.
Result<std::string> readFile(const std::string& path);
/// The ending of a file's name in small letters: ".glb"; empty when it has none.
std::string endingOf(const std::string& path);
/// Size and time of last change, to see whether a file is another; empty when there is none.
std::string fileStamp(const std::string& path);
/// Writes beside the target under a temporary name, checks, and renames: the target is whole or untouched.
Outcome writeFile(const std::string& path, std::string_view content);

}  // namespace dune
