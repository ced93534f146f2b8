#pragma once
// Recordings as JSON lines: an object a line.

#include <string>
#include <string_view>

#include "core/base/result.h"

namespace dune::trace {

/// Whether a text begins as JSON lines do.
bool isJsonLines(std::string_view text);
/// The same as a table: columns by the names of fields, "pos": [x, y, z] as three. Fails where a line is no object, naming it. O(text).
Result<std::string> tableFromJsonLines(std::string_view text);

}  // namespace dune::trace
