#include "core/trace/reading.h"

#include "core/base/text.h"
#include "core/trace/column_names.h"

namespace dune::trace {

std::optional<std::size_t> Reading::columnOf(std::string_view name) const {
  for (const auto& [column, given] : columns)
    if (given == name) return column;
  const auto column = columnNamed(name);
  return column && !columns.contains(*column) ? column : std::nullopt;
}

std::string wordsOf(const Reading& reading) {
  static constexpr std::pair<double, const char*> kUnits[] = {
      {0.001, "millimetres"}, {0.01, "centimetres"}, {0.0254, "inches"}, {0.3048, "feet"}};
  std::string words;
  const auto add = [&](const std::string& more) { words += (words.empty() ? "as " : ", ") + more; };
  if (reading.scale != 1) {
    const char* unit = nullptr;
    for (const auto& [scale, name] : kUnits)
      if (scale == reading.scale) unit = name;
    add(unit ? std::string(unit) : text("%g m a unit", reading.scale));
  }
  if (reading.zUp) add("Z up");
  if (reading.seconds != 1)
    add(reading.seconds == 0.001 ? std::string("times in milliseconds") : text("%g s a unit of time", reading.seconds));
  return words.empty() ? "as it is" : words;
}

}  // namespace dune::trace
