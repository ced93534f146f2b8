#include "core/trace/csv.h"

#include <algorithm>

#include "core/base/number_text.h"
#include "core/trace/column_names.h"
#include "core/trace/one_clock.h"
#include "core/trace/table_reader.h"

namespace dune::trace {

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

namespace {

constexpr std::size_t kMostSamples = 200'000'000;  // 6 GB: a table whose every row has a time of its own

std::size_t indexOf(const std::vector<Body>& bodies, int id) {
  return static_cast<std::size_t>(std::ranges::lower_bound(bodies, id, {}, &Body::id) - bodies.begin());
}

/// Makes a trace of rows that are by time, then by body.
class Gatherer {
 public:
  Gatherer(TableRows table, double originHeight) : table_(std::move(table)), originHeight_(originHeight), bodies_(bodies()) {}

  Result<Trace> run() {
    if (auto problem = check()) return *problem;
    Trace trace;
    trace.derived = table_.derived;
    Writer writer(trace, bodies_);
    (void)writer.begin();
    now_.resize(bodies_.size()), seen_.resize(bodies_.size(), 0);
    for (std::size_t b = 0; b < bodies_.size(); ++b) now_[b].id = bodies_[b].id;
    for (std::size_t i = 0; i < table_.rows.size();) {
      const double t = table_.rows[i].t;
      i = takeTime(i);
      (void)writer.frame(t, now_);
    }
    (void)writer.end();
    return trace;
  }

 private:
  std::vector<Body> bodies() const {
    std::vector<int> ids;  // ascending
    for (const Row& r : table_.rows) {
      const auto at = std::ranges::lower_bound(ids, r.id);
      if (at == ids.end() || *at != r.id) ids.insert(at, r.id);
    }
    std::vector<Body> all;
    for (const int id : ids) all.push_back({id, 0, std::nullopt, 0, originHeight_});
    for (auto told = table_.told.rbegin(); told != table_.told.rend(); ++told) all[indexOf(all, told->id)] = *told;  // the first one stays
    return all;
  }
  std::optional<Problem> check() const {
    const std::vector<Row>& rows = table_.rows;
    std::size_t times = 0;
    for (std::size_t i = 0; i < rows.size(); ++i) {
      times += i == 0 || rows[i].t != rows[i - 1].t;
      if (i > 0 && rows[i].t == rows[i - 1].t && rows[i].id == rows[i - 1].id)
        return Problem{ProblemCode::damaged, "Agent " + std::to_string(rows[i].id) + " has two rows for one time.",
                       "line " + std::to_string(std::max(rows[i].line, rows[i - 1].line)), "a table with the columns t,id,x,y,z."};
    }
    if (times * bodies_.size() <= kMostSamples) return std::nullopt;
    return Problem{ProblemCode::overLimit,
                   "The table has " + std::to_string(times) + " times for " + std::to_string(bodies_.size()) + " agents: too many.", "",
                   "one time for all agents of a step."};
  }

  /// All rows of the time of row i; who has none is held where it was last.
  std::size_t takeTime(std::size_t i) {
    const double t = table_.rows[i].t;
    std::vector<char> here(bodies_.size(), 0);
    for (; i < table_.rows.size() && table_.rows[i].t == t; ++i) {
      const std::size_t b = indexOf(bodies_, table_.rows[i].id);
      now_[b] = sampleOf(table_.rows[i], table_.derived && seen_[b] ? &now_[b] : nullptr);
      here[b] = seen_[b] = 1;
    }
    for (std::size_t b = 0; b < bodies_.size(); ++b)
      if (!here[b]) now_[b].t = t, now_[b].state = State::waiting, now_[b].velocity = Vec3{0};
    return i;
  }

  Sample sampleOf(const Row& r, const Sample* before) const {
    Sample s{r.t, r.id, {r.at.x, r.at.y, r.at.z}, {}, {}, r.state, nav::kNoFace};
    if (r.velocity != Row::kNoVelocity) {
      const TableRows::Velocities& v = table_.velocities[r.velocity];
      s.velocity = {v.real[0], v.real[1], v.real[2]}, s.wanted = {v.wanted[0], v.wanted[1], v.wanted[2]};
    }
    if (before && r.t > before->t) s.velocity = (s.at - before->at) / (r.t - before->t);
    return s;
  }

  TableRows table_;
  double originHeight_;
  std::vector<Body> bodies_;
  std::vector<Sample> now_;
  std::vector<char> seen_;
};

Result<Trace> gathered(TableRows table, double originHeight) {
  const auto before = [](const Row& a, const Row& b) { return a.t != b.t ? a.t < b.t : a.id < b.id; };
  if (!std::ranges::is_sorted(table.rows, before)) std::ranges::stable_sort(table.rows, before);
  if (everyBodyHasItsTimes(table)) ontoOneClock(table);
  return Gatherer(std::move(table), originHeight).run();
}

}  // namespace

Result<Trace> fromCsv(std::string_view text, double originHeight, const Reading& reading) {
  TableReader reader(originHeight, reading);
  if (const auto problem = reader.feed(text)) return *problem;
  auto table = reader.finish();
  return table ? gathered(*std::move(table), originHeight) : table.problem();
}

Result<Trace> readCsv(std::istream& in, std::size_t bytes, double originHeight, Job& job, const Reading& reading) {
  constexpr std::size_t kChunk = 1 << 20;
  TableReader reader(originHeight, reading);
  reader.expectBytes(bytes);
  std::string chunk(kChunk, '\0');
  for (std::size_t read = 0; in;) {
    if (job.cancelled()) return Job::cancelledProblem();
    in.read(chunk.data(), kChunk);
    const auto got = static_cast<std::size_t>(in.gcount());
    if (const auto problem = reader.feed(std::string_view(chunk).substr(0, got))) return *problem;
    read += got;
    job.advance(bytes > 0 ? std::min(1.0, static_cast<double>(read) / static_cast<double>(bytes)) : 1);
  }
  auto table = reader.finish();
  return table ? gathered(*std::move(table), originHeight) : table.problem();
}

}  // namespace dune::trace
