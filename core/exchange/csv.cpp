#include "core/exchange/csv.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/base/number_text.h"

namespace dune::exchange {

namespace {

struct Line {
  int number;
  std::vector<std::string_view> cells;
};

std::string_view trimmed(std::string_view s) {
  while (!s.empty() && (s.front() == ' ' || s.front() == '\t')) s.remove_prefix(1);
  while (!s.empty() && (s.back() == ' ' || s.back() == '\t' || s.back() == '\r')) s.remove_suffix(1);
  return s;
}

std::vector<Line> linesOf(std::string_view text) {
  std::vector<Line> lines;
  for (int number = 1; !text.empty(); ++number) {
    const std::size_t end = std::min(text.find('\n'), text.size());
    std::string_view line = trimmed(text.substr(0, end));
    text.remove_prefix(std::min(end + 1, text.size()));
    if (line.empty()) continue;
    Line cells{number, {}};
    while (true) {
      const std::size_t comma = std::min(line.find(','), line.size());
      cells.cells.push_back(trimmed(line.substr(0, comma)));
      if (comma == line.size()) break;
      line.remove_prefix(comma + 1);
    }
    lines.push_back(std::move(cells));
  }
  return lines;
}

Problem bad(int line, const std::string& what) { return {ProblemCode::damaged, what, "line " + std::to_string(line), ""}; }

/// A table with a header: columns by name.
class Table {
 public:
  static Result<Table> read(std::string_view text, const std::vector<std::string>& needed) {
    Table table;
    table.lines_ = linesOf(text);
    if (table.lines_.empty()) return bad(1, "The table is empty; a header line is expected.");
    const Line& header = table.lines_[0];
    for (std::size_t i = 0; i < header.cells.size(); ++i) table.columns_.emplace(header.cells[i], i);
    for (const std::string& name : needed)
      if (!table.columns_.count(name)) return bad(header.number, "The header has no column '" + name + "'.");
    for (const Line& line : table.lines_)
      if (line.cells.size() != header.cells.size())
        return bad(line.number, "The line has " + std::to_string(line.cells.size()) + " cells; the header has " +
                                    std::to_string(header.cells.size()) + ".");
    return table;
  }

  std::size_t rows() const { return lines_.size() - 1; }
  int lineOf(std::size_t row) const { return lines_[row + 1].number; }
  bool has(const std::string& column) const { return columns_.count(column) > 0; }
  std::string_view cell(std::size_t row, const std::string& column) const { return lines_[row + 1].cells[columns_.find(column)->second]; }
  /// The number in a cell, or the fallback where there is no such column; notes the first cell that is no number.
  double get(std::size_t row, const std::string& column, double fallback = 0) {
    if (!has(column)) return fallback;
    const auto x = numberFrom(cell(row, column));
    if (!x && !problem_)
      problem_ = bad(lineOf(row), "'" + std::string(cell(row, column)) + "' in column '" + column + "' is not a number.");
    return x.value_or(fallback);
  }
  Vec3 get3(std::size_t row, const char* x, const char* y, const char* z) { return {get(row, x), get(row, y), get(row, z)}; }
  int id(std::size_t row) {
    const double x = get(row, "id");
    if ((x != std::floor(x) || std::abs(x) > 2e9) && !problem_) problem_ = bad(lineOf(row), "The id is not a whole number.");
    return static_cast<int>(std::clamp(x, -2e9, 2e9));
  }
  const std::optional<Problem>& problem() const { return problem_; }

 private:
  std::vector<Line> lines_;
  std::map<std::string, std::size_t, std::less<>> columns_;
  std::optional<Problem> problem_;
};

}  // namespace

Result<std::vector<Pair>> pairsFromCsv(const std::string& text) {
  std::vector<Pair> pairs;
  for (const Line& line : linesOf(text)) {
    if (line.cells.size() != 6)
      return bad(line.number, "A pair needs six numbers; there are " + std::to_string(line.cells.size()) + " cells.");
    double x[6];
    for (std::size_t i = 0; i < 6; ++i) {
      const auto n = numberFrom(line.cells[i]);
      if (!n) return bad(line.number, "'" + std::string(line.cells[i]) + "' is not a number.");
      x[i] = *n;
    }
    pairs.push_back({{x[0], x[1], x[2]}, {x[3], x[4], x[5]}});
  }
  return pairs;
}

namespace {

/// The number of a way to steer among those of the table, added when it is new.
std::size_t steeringIn(CrowdTable& table, crowd::Steering model) {
  for (std::size_t i = 0; i < table.steerings.size(); ++i)
    if (table.steerings[i].model == model) return i;
  table.steerings.emplace_back().model = model;
  return table.steerings.size() - 1;
}

Result<std::size_t> kindIn(const Table& t, std::size_t row, const std::vector<CrowdKind>& kinds) {
  if (!t.has("kind") || t.cell(row, "kind").empty()) return std::size_t{0};
  const auto found = std::ranges::find(kinds, t.cell(row, "kind"), &CrowdKind::name);
  if (found == kinds.end())
    return bad(t.lineOf(row),
               "There is no kind of agent named '" + std::string(t.cell(row, "kind")) + "' here, but '" + kinds[0].name + "'.");
  return static_cast<std::size_t>(found - kinds.begin());
}

/// The mesh of a walker: of its kind, or of the rules that it names.
Result<std::size_t> meshIn(const Table& t, std::size_t row, std::size_t kind, const CrowdKind& as, const std::vector<std::string>& rules) {
  const std::string name = t.has("rules") ? std::string(t.cell(row, "rules")) : std::string();
  if (name.empty() || (rules.empty() && name == as.name)) return kind;
  const auto found = std::ranges::find(rules, name);
  if (found == rules.end()) return bad(t.lineOf(row), "There are no rules named '" + name + "' here.");
  return static_cast<std::size_t>(found - rules.begin()) + 1;
}

}  // namespace

Result<CrowdTable> crowdFromCsv(const std::string& text, const std::vector<CrowdKind>& kinds, const std::vector<std::string>& rules) {
  auto table = Table::read(text, {"id", "x", "y", "z", "goal_x", "goal_y", "goal_z"});
  if (!table) return table.problem();
  CrowdTable result;
  result.steerings.emplace_back();
  Table& t = table.value();
  for (std::size_t row = 0; row < t.rows(); ++row) {
    const auto kind = kindIn(t, row, kinds);
    if (!kind) return kind.problem();
    const CrowdKind& as = kinds[*kind];
    const Vec3 feet{0, -as.originHeight, 0};
    crowd::Walker w = as.like;
    const auto mesh = meshIn(t, row, *kind, as, rules);
    if (!mesh) return mesh.problem();
    w.mesh = *mesh;
    w.id = t.id(row);
    w.start = t.get3(row, "x", "y", "z") + feet;
    w.goal = t.get3(row, "goal_x", "goal_y", "goal_z") + feet;
    w.radius = t.get(row, "radius", w.radius);
    w.speed = t.get(row, "speed", w.speed);
    w.acceleration = t.get(row, "accel", w.acceleration);
    w.startTime = t.get(row, "start_time", 0);
    w.group = static_cast<int>(std::clamp(t.get(row, "group", 0), -1e9, 1e9));
    w.priority = static_cast<int>(std::clamp(t.get(row, "priority", 0), -1e6, 1e6));
    if (t.has("goal_agent") && !t.cell(row, "goal_agent").empty())
      w.chase = crowd::Chase{.agent = static_cast<int>(std::clamp(t.get(row, "goal_agent"), -2e9, 2e9))};
    if (t.has("model") && !t.cell(row, "model").empty()) {
      const auto model = crowd::steeringNamed(t.cell(row, "model"));
      if (!model) return bad(t.lineOf(row), "'" + std::string(t.cell(row, "model")) + "' is no way to steer.");
      w.steering = steeringIn(result, *model);
    }
    result.walkers.push_back(w);
  }
  if (t.problem()) return *t.problem();
  return result;
}

}  // namespace dune::exchange
