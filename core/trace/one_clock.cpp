#include "core/trace/one_clock.h"

#include <algorithm>
#include <map>
#include <unordered_map>

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
  if (between.empty()) return 1;
  const auto middle = between.begin() + static_cast<std::ptrdiff_t>(between.size() / 2);
  std::nth_element(between.begin(), middle, between.end());
  return *middle;
}

}  // namespace

bool everyBodyHasItsTimes(const TableRows& table) {
  constexpr std::size_t kMore = 3;
  std::unordered_map<int, std::size_t> own;
  std::size_t times = 0, most = 0;
  for (std::size_t i = 0; i < table.rows.size(); ++i) {
    times += i == 0 || table.rows[i].t != table.rows[i - 1].t;
    most = std::max(most, ++own[table.rows[i].id]);
  }
  return most > 1 && times > kMore * most;
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
