#pragma once
// Lines of tables, cell by cell, read in place.

#include <algorithm>
#include <string_view>

#include "core/trace/reading.h"

namespace dune::trace {

/// Without blanks, quotes and the rest of a line's end.
inline std::string_view trimmedCell(std::string_view s) {
  while (!s.empty() && (s.front() == ' ' || s.front() == '"')) s.remove_prefix(1);
  while (!s.empty() && (s.back() == ' ' || s.back() == '"' || s.back() == '\r')) s.remove_suffix(1);
  return s;
}

/// Calls visit(cell number, cell) for each; gives their count.
template <class Visit>
std::size_t eachCell(std::string_view line, char separator, Visit&& visit) {
  std::size_t n = 0;
  while (true) {
    const std::size_t end = std::min(line.find(separator), line.size());
    visit(n++, trimmedCell(line.substr(0, end)));
    if (end == line.size()) return n;
    line.remove_prefix(end + 1);
  }
}

/// Tables are written with commas, semicolons, bars or tabulators between their cells: the one that finds most columns; where none finds
/// any, the one that parts the header into most cells.
inline char separatorOf(std::string_view header, const Reading& reading) {
  char best = ',';
  std::size_t most = 0;
  for (const char separator : {',', ';', '\t', '|'}) {
    constexpr std::size_t kKnown = 1000;
    std::size_t worth = 0;
    const std::size_t cells =
        eachCell(header, separator, [&](std::size_t, std::string_view name) { worth += kKnown * reading.columnOf(name).has_value(); });
    if (worth + cells > most) best = separator, most = worth + cells;
  }
  return best;
}

}  // namespace dune::trace
