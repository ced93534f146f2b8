// Ten million rows are a usual recording: cells are read in place, and a row is kept in 48 bytes until all bodies are known.

#include "core/trace/csv.h"

#include <algorithm>
#include <array>
#include <map>

#include "core/base/number_text.h"
#include "core/trace/column_names.h"
#include "core/trace/json_lines.h"

namespace dune::trace {

namespace {

constexpr std::size_t kMostSamples = 200'000'000;  // 6 GB: a table whose every row has a time of its own

constexpr std::size_t kNone = ~std::size_t{0};

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

struct Row {
  double t;
  int id;
  std::uint32_t line;
  Block::Place at;
  std::array<float, 3> velocity, wanted;
  State state;
};

/// Rows of one body by time, brought to times that all bodies share: between two that are no gap apart, linearly.
class Clock {
 public:
  Clock(double begin, double step) : begin_(begin), step_(step) {}
  void bring(const std::vector<Row>& own, double longest, std::vector<Row>& out) const {
    for (std::size_t i = 0; i + 1 < own.size(); ++i) {
      const Row &a = own[i], &b = own[i + 1];
      if (b.t - a.t > longest || b.t <= a.t) continue;
      for (double tick = std::ceil((a.t - begin_) / step_); begin_ + tick * step_ < b.t; ++tick)
        out.push_back(between(a, b, begin_ + tick * step_));
    }
  }

 private:
  static Row between(const Row& a, const Row& b, double t) {
    const auto share = static_cast<float>((t - a.t) / (b.t - a.t));
    const auto mix = [share](float x, float y) { return x + (y - x) * share; };
    Row r = share < 0.5f ? a : b;
    r.t = t, r.at = {mix(a.at.x, b.at.x), mix(a.at.y, b.at.y), mix(a.at.z, b.at.z)};
    for (std::size_t k = 0; k < 3; ++k) r.velocity[k] = mix(a.velocity[k], b.velocity[k]), r.wanted[k] = mix(a.wanted[k], b.wanted[k]);
    return r;
  }
  double begin_, step_;
};

/// The median time between two rows of one body.
double stepOf(const std::map<int, std::vector<Row>>& byBody) {
  std::vector<double> between;
  for (const auto& [id, own] : byBody)
    for (std::size_t i = 1; i < own.size(); ++i) between.push_back(own[i].t - own[i - 1].t);
  std::erase_if(between, [](double d) { return d <= 0; });
  if (between.empty()) return 1;
  const auto middle = between.begin() + static_cast<std::ptrdiff_t>(between.size() / 2);
  std::nth_element(between.begin(), middle, between.end());
  return *middle;
}

/// By time, then by body.
std::vector<Row> ontoOneClock(std::vector<Row> rows) {
  constexpr double kGap = 1, kGapSteps = 5;  // s; and times the usual step
  std::map<int, std::vector<Row>> byBody;
  for (const Row& r : rows) byBody[r.id].push_back(r);
  const double step = stepOf(byBody);
  const Clock clock(rows.front().t, step);
  rows.clear();
  for (const auto& [id, own] : byBody) clock.bring(own, std::max(kGap, kGapSteps * step), rows);
  std::ranges::stable_sort(rows, [](const Row& a, const Row& b) { return a.t != b.t ? a.t < b.t : a.id < b.id; });
  return rows;
}

class Reader {
 public:
  explicit Reader(double originHeight) : originHeight_(originHeight) {}

  Result<Trace> read(std::string_view text) {
    std::size_t line = 0;
    while (!text.empty()) {
      const std::size_t end = std::min(text.find('\n'), text.size());
      const std::string_view content = trimmed(text.substr(0, end));
      text.remove_prefix(std::min(end + 1, text.size()));
      ++line;
      if (content.empty()) continue;
      if (const auto problem = cells_ == 0 ? header(content, line) : row(content, line)) return *problem;
    }
    if (cells_ == 0) return bad(1, "The table is empty; a header line is expected.");
    return gathered();
  }

 private:
  std::optional<Problem> header(std::string_view line, std::size_t number) {
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

  /// Tables are written with commas, semicolons, bars or tabulators between their cells: the one that finds most columns.
  static char separatorOf(std::string_view header) {
    char best = ',';
    std::size_t most = 0;
    for (const char separator : {',', ';', '\t', '|'}) {
      std::size_t known = 0;
      eachCell(header, separator, [&](std::size_t, std::string_view name) { known += columnNamed(name).has_value(); });
      if (known > most) best = separator, most = known;
    }
    return best;
  }
  /// "1,5" where commas part no cells.
  std::string_view withPoint(std::string_view cell) {
    if (cell.find(',') == std::string_view::npos) return cell;
    number_ = cell;
    std::ranges::replace(number_, ',', '.');
    return number_;
  }

  bool has(std::size_t column) const { return where_[column] != kNone; }

  std::optional<Problem> row(std::string_view line, std::size_t number) {
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
    rows_.push_back({values[kT],
                     id,
                     static_cast<std::uint32_t>(number),
                     {single(kX), static_cast<float>(values[kY] - originHeight_), single(kZ)},
                     {single(kVx), single(kVy), single(kVz)},
                     {single(kWx), single(kWy), single(kWz)},
                     state});
    if (given[kRadius] || given[kGoalX] || given[kGroup]) {
      Body body{id, values[kRadius], std::nullopt, static_cast<int>(std::clamp(values[kGroup], -1e9, 1e9)), originHeight_};
      if (given[kGoalX] && given[kGoalY] && given[kGoalZ]) body.goal = Vec3{values[kGoalX], values[kGoalY] - originHeight_, values[kGoalZ]};
      told_.push_back(body);
    }
    return std::nullopt;
  }

  std::vector<Body> bodies() {
    std::vector<int> ids;
    for (const Row& r : rows_)
      if (ids.empty() || ids.back() != r.id) ids.push_back(r.id);
    std::sort(ids.begin(), ids.end());
    ids.erase(std::unique(ids.begin(), ids.end()), ids.end());
    std::vector<Body> bodies;
    for (const int id : ids) bodies.push_back({id, 0, std::nullopt, 0, originHeight_});
    for (auto told = told_.rbegin(); told != told_.rend(); ++told) bodies[indexOf(bodies, told->id)] = *told;  // the first one stays
    return bodies;
  }
  static std::size_t indexOf(const std::vector<Body>& bodies, int id) {
    return static_cast<std::size_t>(std::ranges::lower_bound(bodies, id, {}, &Body::id) - bodies.begin());
  }

  Result<Trace> gathered() {
    const auto before = [](const Row& a, const Row& b) { return a.t != b.t ? a.t < b.t : a.id < b.id; };
    if (!std::is_sorted(rows_.begin(), rows_.end(), before)) std::stable_sort(rows_.begin(), rows_.end(), before);
    if (everyRowHasItsTime()) rows_ = ontoOneClock(std::move(rows_));
    std::size_t times = 0;
    for (std::size_t i = 0; i < rows_.size(); ++i) {
      times += i == 0 || rows_[i].t != rows_[i - 1].t;
      if (i > 0 && rows_[i].t == rows_[i - 1].t && rows_[i].id == rows_[i - 1].id)
        return bad(std::max(rows_[i].line, rows_[i - 1].line), "Agent " + std::to_string(rows_[i].id) + " has two rows for one time.");
    }
    std::vector<Body> all = bodies();
    if (times * all.size() > kMostSamples)
      return Problem{ProblemCode::overLimit,
                     "The table has " + std::to_string(times) + " times for " + std::to_string(all.size()) + " agents: too many.", "",
                     "one time for all agents of a step."};
    Trace trace;
    trace.derived = lacksVelocity_ || !has(kVx) || !has(kVy) || !has(kVz);
    Writer writer(trace, all);
    (void)writer.begin();
    std::vector<Sample> last(all.size());
    std::vector<char> seen(all.size(), 0);
    for (std::size_t b = 0; b < all.size(); ++b) last[b].id = all[b].id;
    for (std::size_t i = 0; i < rows_.size();) {
      const double t = rows_[i].t;
      std::vector<char> here(all.size(), 0);
      for (; i < rows_.size() && rows_[i].t == t; ++i) {
        const std::size_t b = indexOf(all, rows_[i].id);
        last[b] = sampleOf(rows_[i], trace.derived && seen[b] ? &last[b] : nullptr);
        here[b] = seen[b] = 1;
      }
      for (std::size_t b = 0; b < all.size(); ++b)
        if (!here[b]) last[b].t = t, last[b].state = State::waiting, last[b].velocity = Vec3{0};
      (void)writer.frame(t, last);
    }
    (void)writer.end();
    return trace;
  }

  /// Bodies that are recorded each at times of its own would have few times in common.
  bool everyRowHasItsTime() const {
    constexpr std::size_t kMore = 3;
    std::map<int, std::size_t> own;
    std::size_t times = 0, most = 0;
    for (std::size_t i = 0; i < rows_.size(); ++i) {
      times += i == 0 || rows_[i].t != rows_[i - 1].t;
      most = std::max(most, ++own[rows_[i].id]);
    }
    return most > 1 && times > kMore * most;
  }

  static Sample sampleOf(const Row& r, const Sample* before) {
    Sample s{r.t, r.id, {r.at.x, r.at.y, r.at.z}, {}, {r.wanted[0], r.wanted[1], r.wanted[2]}, r.state, nav::kNoFace};
    s.velocity = before && r.t > before->t ? (s.at - before->at) / (r.t - before->t) : Vec3{r.velocity[0], r.velocity[1], r.velocity[2]};
    return s;
  }

  double originHeight_;
  std::size_t cells_ = 0;
  char separator_ = ',';
  bool lacksVelocity_ = false;  // in some row
  std::string number_;
  std::array<std::size_t, kCount> where_{};
  std::vector<std::size_t> columnAt_;  // one a cell of a line
  std::vector<Row> rows_;
  std::vector<Body> told_;
};

}  // namespace

Outcome CsvWriter::begin(const std::vector<Body>& bodies) {
  bodies_ = bodies;
  std::string line;
  for (std::size_t c = 0; c < kCount; ++c) line += (c ? "," : "") + std::string(columnName(c));
  return out_(line + "\n");
}

Outcome CsvWriter::add(std::shared_ptr<const Block> block) {
  std::string text;
  const auto number = [&](double x) { text += ',', appendFixed(text, x, 5); };
  const auto place = [&](const Vec3& v) { number(v.x), number(v.y), number(v.z); };
  for (std::size_t f = 0; f < block->times.size(); ++f) {
    for (std::size_t b = 0; b < bodies_.size(); ++b) {
      const Sample s = block->sample(f * bodies_.size() + b);
      const Body& body = bodies_[b];
      const Vec3 origin{0, body.originHeight, 0};
      appendFixed(text, block->times[f], 5);
      text += ',' + std::to_string(bodies_[b].id);
      place(s.at + origin), place(s.velocity), place(s.wanted);
      text += std::string(",") + crowd::stateName(s.state) + ',' + (s.face == nav::kNoFace ? "-1" : std::to_string(index(s.face)));
      if (first_ && body.radius > 0)
        number(body.radius);
      else
        text += ',';
      if (first_ && body.goal)
        place(*body.goal + origin);
      else
        text += ",,,";
      text += ',';
      if (first_ && body.group != 0) text += std::to_string(body.group);
      text += '\n';
    }
    first_ = false;
  }
  return out_(text);
}

std::string toCsv(const Trace& trace) {
  std::string text;
  CsvWriter writer([&](std::string_view more) -> Outcome { return text += more, Nothing{}; });
  (void)writer.begin(trace.bodies());
  for (const auto& block : trace.blocks()) (void)writer.add(block);
  return text;
}

Result<Trace> fromCsv(std::string_view text, double originHeight) {
  if (!isJsonLines(text)) return Reader(originHeight).read(text);
  const auto table = tableFromJsonLines(text);
  if (!table) return table.problem();
  return Reader(originHeight).read(*table);
}

}  // namespace dune::trace
