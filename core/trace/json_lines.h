#pragma once
// Recordings as JSON lines: an object a line.

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

namespace dune::trace {

/// Whether a text begins as JSON lines do.
bool isJsonLines(std::string_view text);
/// Names and values of one line; "pos": [1, 2, 3] and "pos": {"x": 1, …} are "pos.x" and so on. Empty where it is no object. O(line).
std::vector<std::pair<std::string, std::string>> fieldsOfJson(std::string_view line);

}  // namespace dune::trace
