#include "core/trace/json_lines.h"

#include <nlohmann/json.hpp>

#include "core/base/number_text.h"

namespace dune::trace {

namespace {

using Json = nlohmann::json;

std::string cellOf(const Json& value) {
  if (value.is_string()) return value.get<std::string>();
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

std::vector<std::pair<std::string, std::string>> fieldsOfJson(std::string_view line) {
  std::vector<std::pair<std::string, std::string>> all;
  const Json object = Json::parse(line, nullptr, false);
  if (object.is_object()) eachField(object, [&](const std::string& name, std::string cell) { all.emplace_back(name, std::move(cell)); });
  return all;
}

}  // namespace dune::trace
