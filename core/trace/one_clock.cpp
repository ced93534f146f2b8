#include "core/trace/one_clock.h"

#include <algorithm>
#include <map>
#include <unordered_map>

#include "core/base/median.h"

namespace dune::trace {

namespace {

/// Rows of one body by time, brought to times that all bodies share: between two that are no gap apart, linearly.
class Clock {
 public:
  Clock(double begin, double step) : begin_(begin), step_(step) {}
  void bring(const std::vector<Row>& own, double longest, std::vector<Row>& out, TableRows& table) const {
    for (std::size_t i = 0; i + 1 < own.size(); ++i) {
      const Row &a = own[i], &b = own[i + 1];
      if (b.t - a.t > longest || b.t <= a.t) continue;
      for (double tick = std::ceil((a.t - begin_) / step_); begin_ + tick * step_ < b.t; ++tick)
        out.push_back(between(a, b, begin_ + tick * step_, table.velocities));
    }
  }

 private:
  static Row between(const Row& a, const Row& b, double t, std::vector<TableRows::Velocities>& velocities) {
    const auto share = static_cast<float>((t - a.t) / (b.t - a.t));
    const auto mix = [share](float x, float y) { return x + (y - x) * share; };
    Row r = share < 0.5f ? a : b;
    r.t = t, r.at = {mix(a.at.x, b.at.x), mix(a.at.y, b.at.y), mix(a.at.z, b.at.z)};
    if (a.velocity == Row::kNoVelocity || b.velocity == Row::kNoVelocity) return r;
    const TableRows::Velocities va = velocities[a.velocity], vb = velocities[b.velocity];
    TableRows::Velocities& v = velocities.emplace_back();
    for (std::size_t k = 0; k < 3; ++k) v.real[k] = mix(va.real[k], vb.real[k]), v.wanted[k] = mix(va.wanted[k], vb.wanted[k]);
    r.velocity = static_cast<std::uint32_t>(velocities.size() - 1);
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
  constexpr double kLeast = 1e-3;  // s: what is recorded more often is not looked at more often
  return std::max(kLeast, medianOf(std::move(between), 1));
}

}  // namespace

bool everyBodyHasItsTimes(const TableRows& table) {
  struct Presence {
    double first, last;
  };
  std::unordered_map<int, Presence> present;
  double times = 0, there = 0;  // there: seconds, of all bodies
  for (std::size_t i = 0; i < table.rows.size(); ++i) {
    const Row& r = table.rows[i];
    times += i == 0 || r.t != table.rows[i - 1].t;
    present.try_emplace(r.id, Presence{r.t, r.t}).first->second.last = r.t;
  }
  for (const auto& [id, p] : present) there += p.last - p.first;
  const double seconds = table.rows.empty() ? 0 : table.rows.back().t - table.rows.front().t;
  // So many are there at once on the mean; at shared times about as many have a row.
  constexpr double kMoreThanOne = 1.5;
  return seconds > 0 && there > kMoreThanOne * seconds && static_cast<double>(table.rows.size()) / times < there / seconds / 2;
}

void ontoOneClock(TableRows& table) {
  constexpr double kGap = 1, kGapSteps = 5;  // s; and times the usual step
  std::map<int, std::vector<Row>> byBody;
  for (const Row& r : table.rows) byBody[r.id].push_back(r);
  const double step = stepOf(byBody);
  const Clock clock(table.rows.front().t, step);
  table.rows.clear();
  for (const auto& [id, own] : byBody) clock.bring(own, std::max(kGap, kGapSteps * step), table.rows, table);
  std::ranges::stable_sort(table.rows, [](const Row& a, const Row& b) { return a.t != b.t ? a.t < b.t : a.id < b.id; });
}

}  // namespace dune::trace
