#pragma once
// Recordings as JSON lines: an object a line.

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/trace/reading.h"

namespace dune::trace {

/// Whether a text begins as JSON lines do.
bool isJsonLines(std::string_view text);
/// The same as a table with our columns, by the names of fields. Fails where a line is no object, naming it. O(text).
Result<std::string> tableFromJsonLines(std::string_view text, const Reading& reading);
/// Names and values of one line; "pos": [1, 2, 3] and "pos": {"x": 1, …} are "pos.x" and so on. Empty where it is no object.
std::vector<std::pair<std::string, std::string>> fieldsOfJson(std::string_view line);

}  // namespace dune::trace
