#include "core/trace/table_reader.h"

#include <algorithm>

#include "core/base/number_text.h"

namespace dune::trace {

namespace {

Problem bad(std::size_t line, const std::string& what) {
  return {ProblemCode::damaged, what, "line " + std::to_string(line), "a table with the columns t,id,x,y,z."};
}

std::string_view trimmed(std::string_view s) {
  while (!s.empty() && (s.front() == ' ' || s.front() == '"')) s.remove_prefix(1);
  while (!s.empty() && (s.back() == ' ' || s.back() == '"' || s.back() == '\r')) s.remove_suffix(1);
  return s;
}

/// Calls visit(cell number, cell) for each; gives their count.
template <class Visit>
std::size_t eachCell(std::string_view line, char separator, Visit&& visit) {
  std::size_t n = 0;
  while (true) {
    const std::size_t comma = std::min(line.find(separator), line.size());
    visit(n++, trimmed(line.substr(0, comma)));
    if (comma == line.size()) return n;
    line.remove_prefix(comma + 1);
  }
}

State stateNamed(std::string_view name) {
  for (const State s : {State::moving, State::arrived, State::stuck, State::link, State::waiting, State::offMesh})
    if (name == crowd::stateName(s)) return s;
  return State::moving;
}

/// Tables are written with commas, semicolons, bars or tabulators between their cells: the one that finds most columns.
char separatorOf(std::string_view header) {
  char best = ',';
  std::size_t most = 0;
  for (const char separator : {',', ';', '\t', '|'}) {
    std::size_t known = 0;
    eachCell(header, separator, [&](std::size_t, std::string_view name) { known += columnNamed(name).has_value(); });
    if (known > most) best = separator, most = known;
  }
  return best;
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
  const std::string_view content = trimmed(text);
  ++lines_;
  if (content.empty()) return std::nullopt;
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
  separator_ = separatorOf(line);
  cells_ = eachCell(line, separator_, [&](std::size_t i, std::string_view name) {
    if (const auto c = columnNamed(name); c && where_[*c] == kNone) where_[*c] = i;
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

std::optional<Problem> TableReader::row(std::string_view line, std::size_t number) {
  std::array<double, kCount> values{};
  std::array<bool, kCount> given{};
  State state = State::moving;
  std::optional<Problem> problem;
  const std::size_t cells = eachCell(line, separator_, [&](std::size_t i, std::string_view cell) {
    const std::size_t c = i < columnAt_.size() ? columnAt_[i] : kCount;
    if (c == kCount || c == kFace) return;
    if (c == kState) return void(state = stateNamed(cell));
    if (cell.empty() && c > kZ) return void(lacksVelocity_ = lacksVelocity_ || c < kWx);
    const auto x = separator_ == ',' ? numberFrom(cell) : numberFrom(withPoint(cell));
    if (!x && !problem) problem = bad(number, "'" + std::string(cell) + "' in column '" + columnName(c) + "' is not a number.");
    values[c] = x.value_or(0), given[c] = true;
  });
  if (cells != cells_)
    return bad(number, "The line has " + std::to_string(cells) + " cells; the header has " + std::to_string(cells_) + ".");
  if (problem) return problem;
  if (values[kId] != std::floor(values[kId]) || std::abs(values[kId]) > 2e9) return bad(number, "The id is not a whole number.");
  const auto single = [&](std::size_t c) { return static_cast<float>(values[c]); };
  const int id = static_cast<int>(values[kId]);
  std::uint32_t velocity = Row::kNoVelocity;
  if (has(kVx) || has(kWx)) {
    velocity = static_cast<std::uint32_t>(table_.velocities.size());
    table_.velocities.push_back({{single(kVx), single(kVy), single(kVz)}, {single(kWx), single(kWy), single(kWz)}});
  }
  table_.rows.push_back({values[kT],
                         id,
                         static_cast<std::uint32_t>(number),
                         {single(kX), static_cast<float>(values[kY] - originHeight_), single(kZ)},
                         velocity,
                         state});
  if (given[kRadius] || given[kGoalX] || given[kGroup]) {
    Body body{id, values[kRadius], std::nullopt, static_cast<int>(std::clamp(values[kGroup], -1e9, 1e9)), originHeight_};
    if (given[kGoalX] && given[kGoalY] && given[kGoalZ]) body.goal = Vec3{values[kGoalX], values[kGoalY] - originHeight_, values[kGoalZ]};
    table_.told.push_back(body);
  }
  return std::nullopt;
}

}  // namespace dune::trace
