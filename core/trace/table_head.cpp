#include "core/trace/table_head.h"

#include <algorithm>
#include <cstring>
#include <filesystem>
#include <fstream>

#include "core/trace/file.h"
#include "core/trace/json_lines.h"
#include "core/trace/table_cells.h"

namespace dune::trace {

namespace {

constexpr std::size_t kRows = 5;

/// The next line that says something; empty at the end.
std::string_view nextLine(std::string_view& text) {
  while (!text.empty()) {
    const std::size_t end = std::min(text.find('\n'), text.size());
    const std::string_view line = trimmedCell(text.substr(0, end));
    text.remove_prefix(std::min(end + 1, text.size()));
    if (!line.empty()) return line;
  }
  return {};
}

void takeObject(TableHead& head, std::string_view line) {
  std::vector<std::string> row(head.names.size());
  for (const auto& [name, cell] : fieldsOfJson(line)) {
    const auto at = std::ranges::find(head.names, name);
    const auto i = static_cast<std::size_t>(at - head.names.begin());
    if (at == head.names.end()) head.names.push_back(name), row.emplace_back();
    row[i] = cell;
  }
  head.rows.push_back(std::move(row));
}

}  // namespace

std::vector<std::string> TableHead::missing(const Reading& reading) const {
  std::vector<std::string> all;
  for (const std::size_t c : kNeeded)
    if (std::ranges::none_of(names, [&](const std::string& name) { return reading.columnOf(name) == c; })) all.emplace_back(columnName(c));
  return all;
}

std::string TableHead::make() const {
  std::string text;
  for (const std::string& name : names) text += name + '\n';
  return text;
}

TableHead headOfText(std::string_view text) {
  TableHead head;
  if (isJsonLines(text)) {
    for (std::string_view line = nextLine(text); !line.empty() && head.rows.size() < kRows; line = nextLine(text)) takeObject(head, line);
  } else if (const std::string_view names = nextLine(text); !names.empty()) {
    const char separator = separatorOf(names, {});
    const auto cells = [&](std::string_view line) {
      std::vector<std::string> all;
      eachCell(line, separator, [&](std::size_t, std::string_view cell) { all.emplace_back(cell); });
      return all;
    };
    head.names = cells(names);
    for (std::string_view line = nextLine(text); !line.empty() && head.rows.size() < kRows; line = nextLine(text))
      head.rows.push_back(cells(line));
  }
  for (auto& row : head.rows) row.resize(head.names.size());
  return head;
}

Result<std::optional<TableHead>> headOf(const std::string& path) {
  constexpr std::size_t kBytes = 1 << 16;
  std::ifstream in(path, std::ios::binary);
  std::error_code none;
  if (!in || std::filesystem::is_directory(path, none))
    return Problem{ProblemCode::unreadable, "The file cannot be opened.", path, "another path."};
  if (isTraceFile(path)) return std::optional<TableHead>();
  std::string text(kBytes, '\0');
  in.read(text.data(), kBytes);
  text.resize(static_cast<std::size_t>(in.gcount()));
  // What is cut off is no line.
  if (text.size() == kBytes) text.resize(text.rfind('\n') == std::string::npos ? text.size() : text.rfind('\n'));
  return std::optional(headOfText(text));
}

}  // namespace dune::trace
