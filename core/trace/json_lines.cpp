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

/// Calls visit(name, cell) for each field, and for those of places and velocities.
template <class Visit>
void eachField(const Json& object, Visit&& visit) {
  for (const auto& [name, value] : object.items()) {
    if (!value.is_structured()) visit(name, cellOf(value));
    if (value.is_array() && value.size() == 3)
      for (std::size_t axis = 0; axis < 3; ++axis) visit(name + '.' + "xyz"[axis], cellOf(value[axis]));
    if (value.is_object())
      for (const auto& [part, inner] : value.items())
        if (!inner.is_structured()) visit(name + '.' + part, cellOf(inner));
  }
}

}  // namespace

bool isJsonLines(std::string_view text) {
  const std::size_t first = text.find_first_not_of(" \t\r\n");
  return first != std::string_view::npos && text[first] == '{';
}

Result<std::string> tableFromJsonLines(std::string_view text, const Reading& reading) {
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
    Cells& cells = all.emplace_back();
    eachField(object, [&](const std::string& name, std::string cell) {
      if (const auto column = reading.columnOf(name)) cells[*column] = std::move(cell);
    });
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

std::vector<std::pair<std::string, std::string>> fieldsOfJson(std::string_view line) {
  std::vector<std::pair<std::string, std::string>> all;
  const Json object = Json::parse(line, nullptr, false);
  if (object.is_object()) eachField(object, [&](const std::string& name, std::string cell) { all.emplace_back(name, std::move(cell)); });
  return all;
}

}  // namespace dune::trace
