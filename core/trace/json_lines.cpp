#include "core/trace/json_lines.h"

#include <algorithm>
#include <array>
#include <nlohmann/json.hpp>
#include <optional>

#include "core/base/number_text.h"
#include "core/trace/column_names.h"

namespace dune::trace {

namespace {

using Json = nlohmann::json;

/// A cell for each column; empty where a line says nothing.
using Cells = std::array<std::string, kCount>;

std::string cellOf(const Json& value) {
  if (value.is_string()) {
    std::string text = value.get<std::string>();
    std::erase_if(text, [](char c) { return c == ',' || c == '\n' || c == '\r'; });
    return text;
  }
  if (value.is_number_integer()) return std::to_string(value.get<std::int64_t>());
  std::string text;
  if (value.is_number()) appendNumber(text, value.get<double>(), 12);
  return text;
}

void take(const Json& object, Cells& cells) {
  for (const auto& [name, value] : object.items()) {
    if (const auto column = columnNamed(name); column && !value.is_structured()) {
      cells[*column] = cellOf(value);
      continue;
    }
    // Places and velocities as lists, or as objects with x, y and z.
    const auto first = columnNamed(name + "x");
    if (!first) continue;
    for (std::size_t axis = 0; axis < 3; ++axis) {
      const char* letters[] = {"x", "y", "z"};
      if (value.is_array() && value.size() == 3)
        cells[*first + axis] = cellOf(value[axis]);
      else if (value.is_object() && value.contains(letters[axis]))
        cells[*first + axis] = cellOf(value[letters[axis]]);
    }
  }
}

}  // namespace

bool isJsonLines(std::string_view text) {
  const std::size_t first = text.find_first_not_of(" \t\r\n");
  return first != std::string_view::npos && text[first] == '{';
}

Result<std::string> tableFromJsonLines(std::string_view text) {
  std::string rows;
  std::array<bool, kCount> any{};
  std::vector<Cells> all;
  for (std::size_t number = 1; !text.empty(); ++number) {
    const std::size_t end = std::min(text.find('\n'), text.size());
    const std::string_view line = text.substr(0, end);
    text.remove_prefix(std::min(end + 1, text.size()));
    if (line.find_first_not_of(" \t\r") == std::string_view::npos) continue;
    const Json object = Json::parse(line, nullptr, false);
    if (!object.is_object())
      return Problem{ProblemCode::damaged, "The line is no JSON object.", "line " + std::to_string(number),
                     "one object a line with t, id, x, y, z."};
    take(object, all.emplace_back());
    for (std::size_t c = 0; c < kCount; ++c) any[c] = any[c] || !all.back()[c].empty();
  }
  const auto line = [&](auto&& cell) {
    bool first = true;
    for (std::size_t c = 0; c < kCount; ++c) {
      if (!any[c]) continue;
      if (!std::exchange(first, false)) rows += ',';
      rows += cell(c);
    }
    rows += '\n';
  };
  line([](std::size_t c) { return std::string(columnName(c)); });
  for (const Cells& cells : all) line([&](std::size_t c) { return cells[c]; });
  return rows;
}

}  // namespace dune::trace
