#include "core/exchange/csv.h"

#include <algorithm>
#include <charconv>
#include <map>

namespace dune::exchange {

namespace {

using crowd::Sample;
using crowd::State;

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

std::optional<double> number(std::string_view cell) {
  double x = 0;
  const auto [end, error] = std::from_chars(cell.data(), cell.data() + cell.size(), x);
  if (error != std::errc() || end != cell.data() + cell.size() || !std::isfinite(x)) return std::nullopt;
  return x;
}

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
    const auto x = number(cell(row, column));
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

State stateNamed(std::string_view name) {
  for (const State s : {State::moving, State::arrived, State::stuck, State::link, State::waiting, State::offMesh})
    if (name == crowd::stateName(s)) return s;
  return State::moving;
}

std::string fixed(double x) {
  char text[40];
  std::snprintf(text, sizeof text, "%.5f", x == 0 ? 0.0 : x);
  return text;
}

/// Fills gaps by holding the last place, and works out velocities where there were none.
crowd::Trace completed(const std::map<double, std::map<int, Sample>>& byTime, const std::vector<int>& ids, bool derive) {
  crowd::Trace trace;
  trace.ids = ids;
  trace.radii.assign(ids.size(), 0);
  trace.derived = derive;
  std::vector<Sample> last(ids.size());
  std::vector<char> seen(ids.size(), 0);
  for (const auto& [t, samples] : byTime) {
    for (std::size_t b = 0; b < ids.size(); ++b) {
      const auto found = samples.find(ids[b]);
      Sample s = found != samples.end() ? found->second : last[b];
      if (found == samples.end()) s.state = State::waiting, s.velocity = Vec3{0};
      s.t = t, s.id = ids[b];
      if (derive && found != samples.end() && seen[b] && t > last[b].t) s.velocity = (s.at - last[b].at) / (t - last[b].t);
      if (found != samples.end()) seen[b] = 1;
      last[b] = s;
      trace.samples.push_back(s);
    }
  }
  if (trace.frameCount() > 1) trace.step = trace.duration() / static_cast<double>(trace.frameCount() - 1);
  return trace;
}

}  // namespace

Result<std::vector<Pair>> pairsFromCsv(const std::string& text) {
  std::vector<Pair> pairs;
  for (const Line& line : linesOf(text)) {
    if (line.cells.size() != 6)
      return bad(line.number, "A pair needs six numbers; there are " + std::to_string(line.cells.size()) + " cells.");
    double x[6];
    for (std::size_t i = 0; i < 6; ++i) {
      const auto n = number(line.cells[i]);
      if (!n) return bad(line.number, "'" + std::string(line.cells[i]) + "' is not a number.");
      x[i] = *n;
    }
    pairs.push_back({{x[0], x[1], x[2]}, {x[3], x[4], x[5]}});
  }
  return pairs;
}

Result<std::vector<crowd::Walker>> walkersFromCsv(const std::string& text, const crowd::Walker& like) {
  auto table = Table::read(text, {"id", "x", "y", "z", "goal_x", "goal_y", "goal_z"});
  if (!table) return table.problem();
  std::vector<crowd::Walker> walkers;
  Table& t = table.value();
  for (std::size_t row = 0; row < t.rows(); ++row) {
    crowd::Walker w = like;
    w.id = t.id(row);
    w.start = t.get3(row, "x", "y", "z");
    w.goal = t.get3(row, "goal_x", "goal_y", "goal_z");
    w.radius = t.get(row, "radius", like.radius);
    w.speed = t.get(row, "speed", like.speed);
    w.acceleration = t.get(row, "accel", like.acceleration);
    w.startTime = t.get(row, "start_time", 0);
    walkers.push_back(w);
  }
  if (t.problem()) return *t.problem();
  return walkers;
}

std::string traceToCsv(const crowd::Trace& trace, double originHeight) {
  std::string text = "t,id,x,y,z,vx,vy,vz,want_vx,want_vy,want_vz,state,face\n";
  for (const Sample& s : trace.samples) {
    text += fixed(s.t) + "," + std::to_string(s.id);
    for (const Vec3& v : {s.at + Vec3{0, originHeight, 0}, s.velocity, s.wanted})
      for (int i = 0; i < 3; ++i) text += "," + fixed(v[i]);
    text += std::string(",") + crowd::stateName(s.state) + "," + (s.face == mesh::kNoFace ? "-1" : std::to_string(index(s.face))) + "\n";
  }
  return text;
}

Result<crowd::Trace> traceFromCsv(const std::string& text, double originHeight) {
  auto table = Table::read(text, {"t", "id", "x", "y", "z"});
  if (!table) return table.problem();
  Table& t = table.value();
  const bool derive = !t.has("vx") || !t.has("vy") || !t.has("vz");
  std::map<double, std::map<int, Sample>> byTime;
  std::vector<int> ids;
  for (std::size_t row = 0; row < t.rows(); ++row) {
    Sample s;
    s.t = t.get(row, "t");
    s.id = t.id(row);
    s.at = t.get3(row, "x", "y", "z") - Vec3{0, originHeight, 0};
    s.velocity = t.get3(row, "vx", "vy", "vz");
    s.wanted = t.get3(row, "want_vx", "want_vy", "want_vz");
    if (t.has("state")) s.state = stateNamed(t.cell(row, "state"));
    if (!byTime[s.t].emplace(s.id, s).second) return bad(t.lineOf(row), "Agent " + std::to_string(s.id) + " has two rows for one time.");
    ids.push_back(s.id);
  }
  if (t.problem()) return *t.problem();
  std::sort(ids.begin(), ids.end());
  ids.erase(std::unique(ids.begin(), ids.end()), ids.end());
  return completed(byTime, ids, derive);
}

}  // namespace dune::exchange
