#include "core/trace/table_reader.h"

#include <algorithm>

#include "core/base/number_text.h"
#include "core/trace/json_lines.h"
#include "core/trace/table_cells.h"

namespace dune::trace {

namespace {

Problem bad(std::size_t line, const std::string& what) {
  return {ProblemCode::damaged, what, "line " + std::to_string(line), "a table with the columns t,id,x,y,z."};
}

State stateNamed(std::string_view name) {
  for (const State s : {State::moving, State::arrived, State::stuck, State::link, State::waiting, State::offMesh})
    if (name == crowd::stateName(s)) return s;
  return State::moving;
}

}  // namespace

std::optional<Problem> TableReader::feed(std::string_view text) {
  bytes_ += text.size();
  while (true) {
    const std::size_t end = text.find('\n');
    if (end == std::string_view::npos) break;
    std::optional<Problem> problem;
    if (rest_.empty()) {
      problem = line(text.substr(0, end));
    } else {
      rest_ += text.substr(0, end);
      problem = line(std::exchange(rest_, {}));
    }
    if (problem) return problem;
    text.remove_prefix(end + 1);
  }
  rest_ += text;
  if (expected_ > 0 && table_.rows.size() > 1000) {
    const double share = static_cast<double>(expected_) / static_cast<double>(bytes_);
    table_.rows.reserve(static_cast<std::size_t>(static_cast<double>(table_.rows.size()) * share * 1.02));
    expected_ = 0;
  }
  return std::nullopt;
}

void TableReader::expectBytes(std::size_t all) { expected_ = all; }

std::optional<Problem> TableReader::line(std::string_view text) {
  const std::string_view content = trimmedCell(text);
  ++lines_;
  if (content.empty()) return std::nullopt;
  if (cells_ == 0 && isJsonLines(content)) where_.fill(kNone), cells_ = kCount, json_ = true;
  if (json_) return object(content, lines_);
  return cells_ == 0 ? header(content, lines_) : row(content, lines_);
}

Result<TableRows> TableReader::finish() {
  if (!rest_.empty())
    if (const auto problem = line(std::exchange(rest_, {}))) return *problem;
  if (cells_ == 0) return bad(1, "The table is empty; a header line is expected.");
  table_.derived = lacksVelocity_ || !has(kVx) || !has(kVy) || !has(kVz);
  return std::move(table_);
}

std::optional<Problem> TableReader::header(std::string_view line, std::size_t number) {
  where_.fill(kNone);
  separator_ = separatorOf(line, reading_);
  cells_ = eachCell(line, separator_, [&](std::size_t i, std::string_view name) {
    if (const auto c = reading_.columnOf(name); c && where_[*c] == kNone) where_[*c] = i;
    columnAt_.push_back(kCount);
  });
  for (std::size_t c = 0; c < kCount; ++c)
    if (where_[c] != kNone) columnAt_[where_[c]] = c;
  for (const std::size_t c : {kT, kId, kX, kY, kZ})
    if (where_[c] == kNone) return bad(number, std::string("The header has no column '") + columnName(c) + "'.");
  return std::nullopt;
}

/// "1,5" where commas part no cells.
std::string_view TableReader::withPoint(std::string_view cell) {
  if (cell.find(',') == std::string_view::npos) return cell;
  number_ = cell;
  std::ranges::replace(number_, ',', '.');
  return number_;
}

std::optional<Problem> TableReader::takeCell(Cells& cells, std::size_t column, std::string_view cell, std::size_t number) {
  if (column == kFace || cell.empty()) return std::nullopt;
  if (column == kState) return cells.state = stateNamed(cell), std::nullopt;
  const auto x = separator_ == ',' && !json_ ? numberFrom(cell) : numberFrom(withPoint(cell));
  if (!x) return bad(number, "'" + std::string(cell) + "' in column '" + columnName(column) + "' is not a number.");
  cells.values[column] = *x, cells.given[column] = true;
  return std::nullopt;
}

std::optional<Problem> TableReader::row(std::string_view line, std::size_t number) {
  Cells all;
  std::optional<Problem> problem;
  const std::size_t cells = eachCell(line, separator_, [&](std::size_t i, std::string_view cell) {
    const std::size_t c = i < columnAt_.size() ? columnAt_[i] : kCount;
    if (c == kCount) return;
    if (auto wrong = takeCell(all, c, cell, number); wrong && !problem) problem = std::move(wrong);
  });
  if (cells != cells_)
    return bad(number, "The line has " + std::to_string(cells) + " cells; the header has " + std::to_string(cells_) + ".");
  return problem ? problem : takeRow(all, number);
}

std::optional<Problem> TableReader::object(std::string_view line, std::size_t number) {
  const auto fields = fieldsOfJson(line);
  if (fields.empty())
    return Problem{ProblemCode::damaged, "The line is no JSON object.", "line " + std::to_string(number),
                   "one object a line with t, id, x, y, z."};
  Cells all;
  for (const auto& [name, cell] : fields)
    if (const auto column = reading_.columnOf(name)) {
      where_[*column] = 0;
      if (auto problem = takeCell(all, *column, trimmedCell(cell), number)) return problem;
    }
  return takeRow(all, number);
}

std::optional<Problem> TableReader::takeRow(const Cells& cells, std::size_t number) {
  const auto& values = cells.values;
  const auto& given = cells.given;
  for (const std::size_t c : {kT, kId, kX, kY, kZ})
    if (!given[c]) return bad(number, std::string("The line says nothing for '") + columnName(c) + "'.");
  for (const std::size_t c : {kVx, kVy, kVz}) lacksVelocity_ = lacksVelocity_ || !given[c];
  if (values[kId] != std::floor(values[kId]) || std::abs(values[kId]) > 2e9) return bad(number, "The id is not a whole number.");
  const auto turned = [&](std::size_t c, double by = 1) { return reading_.turned({values[c], values[c + 1], values[c + 2]}) * by; };
  const auto single = [](const Vec3& v) { return std::array{static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)}; };
  const int id = static_cast<int>(values[kId]);
  std::uint32_t velocity = Row::kNoVelocity;
  if (has(kVx) || has(kWx)) {
    velocity = static_cast<std::uint32_t>(table_.velocities.size());
    table_.velocities.push_back({single(turned(kVx, 1 / reading_.seconds)), single(turned(kWx, 1 / reading_.seconds))});
  }
  const std::array<float, 3> at = single(turned(kX) - Vec3{0, originHeight_, 0});
  table_.rows.push_back(
      {values[kT] * reading_.seconds, id, static_cast<std::uint32_t>(number), {at[0], at[1], at[2]}, velocity, cells.state});
  if (given[kRadius] || given[kGoalX] || given[kGroup]) {
    Body body{id, values[kRadius] * reading_.scale, std::nullopt, static_cast<int>(std::clamp(values[kGroup], -1e9, 1e9)), originHeight_};
    if (given[kGoalX] && given[kGoalY] && given[kGoalZ]) body.goal = turned(kGoalX) - Vec3{0, originHeight_, 0};
    table_.told.push_back(body);
  }
  return std::nullopt;
}

}  // namespace dune::trace
